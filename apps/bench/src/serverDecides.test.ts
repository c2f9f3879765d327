import { transformSync } from '@babel/core'
import { join } from 'node:path'

const built = (code: string, filename = '/packages/core/src/one.ts'): string =>
  transformSync(code, {
    filename,
    configFile: false,
    babelrc: false,
    comments: false,
    presets: [require.resolve('@babel/preset-typescript')],
    plugins: [join(__dirname, '../serverDecides.cjs')],
  })?.code ?? ''

const check = `
import { defineCheck } from '../check'
import { solve, words, type Kind } from './solve'
import { limitFor } from '../limits'

const farthest = 15
const again = (n: number): number => (n > farthest ? again(n - 1) : limitFor(n))
const label = 'laid'
export const kept = () => solve()
export const one = defineCheck({
  id: 'a.b',
  words,
  *take() {
    yield label
  },
  evaluate: (evidence: Kind) => again(solve(evidence)),
})
`

test('how a check decides is left out, with what only that asks for; its steps and words stay', () => {
  const code = built(check)
  expect(code).not.toMatch(/evaluate|again|farthest|limits/)
  expect(code).toContain("import { solve, words } from './solve'")
  expect(code).toContain("const label = 'laid'")
  expect(code).toContain('yield label')
  expect(code).toContain('export const kept')
})

test('what is no check, and what is not of the core, stays as it is', () => {
  const plain = "import { a } from './a'\nexport const judge = { evaluate: a }\n"
  expect(built(plain)).toContain('evaluate: a')
  expect(built(check, '/apps/other/one.ts')).toContain('again(solve(evidence))')
})
