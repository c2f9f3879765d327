/** What of a check only the server asks for. */
const decides = ['evaluate', 'stepsOf', 'opens', 'optional']

/**
 * Leaves out of the application what only the server runs: how a check decides, whether a step that was tried proves anything, and whatever of
 * its module and of the modules that it imports nothing else asks for. What the application does run of the core (steps, words) stays.
 */
module.exports = ({ types: t }) => {
  const isChecked = (call) => t.isIdentifier(call.callee, { name: 'defineCheck' })
  const isTried = (call) => t.isIdentifier(call.callee, { name: 'tried' })
  const isOfServer = (property) => t.isIdentifier(property.key) && decides.includes(property.key.name)

  /** A declaration of the module's own that nothing refers to any more; its parts have no effect of their own. */
  const isUnused = ({ referenced, referencePaths, path }) =>
    (!referenced || referencePaths.every((from) => from.findParent((p) => p === path) !== null)) &&
    (path.isFunctionDeclaration() ||
      path.parentPath.isImportDeclaration() ||
      (path.isVariableDeclarator() && path.get('id').isIdentifier() && path.get('init').isPure())) &&
    !path.parentPath.parentPath?.isExportNamedDeclaration() &&
    !path.parentPath.isExportNamedDeclaration()

  /** Of the module, and within its functions. */
  const bindingsOf = (program) => {
    const scopes = [program.scope]
    program.traverse({ Function: ({ scope }) => void scopes.push(scope), BlockStatement: ({ scope }) => void scopes.push(scope) })
    return [...new Set(scopes.flatMap(({ bindings }) => Object.values(bindings)))]
  }

  const removeUnused = (program) => {
    for (;;) {
      program.scope.crawl()
      const unused = bindingsOf(program).filter(isUnused)
      if (unused.length === 0) return
      for (const { path } of unused) {
        const declaration = path.parentPath
        if (declaration.isImportDeclaration() && declaration.node.specifiers.length === 1) declaration.remove()
        else path.remove()
      }
    }
  }

  return {
    visitor: {
      Program(program, { filename }) {
        if (!/[\\/]packages[\\/]core[\\/]/.test(filename)) return
        let found = false
        program.traverse({
          CallExpression(path) {
            // A plan is walked without events: nothing that was tried is looked at.
            if (isTried(path.node)) path.node.arguments.length = 1
            if (!isChecked(path.node)) return
            const [check] = path.node.arguments
            check.properties = check.properties.filter((property) => !isOfServer(property))
            found = true
          },
        })
        if (found) removeUnused(program)
      },
    },
  }
}
