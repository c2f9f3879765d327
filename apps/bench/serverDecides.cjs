/**
 * Leaves out of the application what only the server runs: how a check decides (`evaluate`), and whatever of its module and of the modules
 * that it imports nothing else asks for. What the application does run of the core (steps, words, guards of a take) stays.
 */
module.exports = ({ types: t }) => {
  const isChecked = (call) => t.isIdentifier(call.callee, { name: 'defineCheck' })
  const isEvaluate = (property) => t.isIdentifier(property.key, { name: 'evaluate' })

  /** A declaration of the module's own that nothing refers to any more; its parts have no effect of their own. */
  const isUnused = ({ referenced, referencePaths, path }) =>
    (!referenced || referencePaths.every((from) => from.findParent((p) => p === path) !== null)) &&
    (path.isFunctionDeclaration() ||
      path.parentPath.isImportDeclaration() ||
      (path.isVariableDeclarator() && path.get('id').isIdentifier() && path.get('init').isPure())) &&
    !path.parentPath.parentPath?.isExportNamedDeclaration() &&
    !path.parentPath.isExportNamedDeclaration()

  const removeUnused = (program) => {
    for (;;) {
      program.scope.crawl()
      const unused = Object.values(program.scope.bindings).filter(isUnused)
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
            if (!isChecked(path.node)) return
            const [check] = path.node.arguments
            check.properties = check.properties.filter((property) => !isEvaluate(property))
            found = true
          },
        })
        if (found) removeUnused(program)
      },
    },
  }
}
