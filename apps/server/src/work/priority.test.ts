import { execFileSync } from 'node:child_process'

const priorities = `
  import { getPriority } from 'node:os'
  import { readdirSync } from 'node:fs'
  import { othersGiveWay } from './priority.ts'
  const before = getPriority(process.pid)
  await othersGiveWay()
  const others = readdirSync('/proc/self/task').map(Number).filter((thread) => thread !== process.pid)
  console.log(JSON.stringify({ before, main: getPriority(process.pid), others: others.map((thread) => getPriority(thread)) }))
`

// In a process of its own: a thread that gave way once stays so.
test('all threads but the one that stops motors give way to it, those that decode pictures among them', () => {
  const said = execFileSync(process.execPath, ['--import', 'tsx', '--input-type=module', '--eval', priorities], {
    cwd: __dirname,
    encoding: 'utf8',
  })
  const { before, main, others } = JSON.parse(said) as { before: number; main: number; others: number[] }
  expect(main).toBe(before)
  expect(others.length).toBeGreaterThan(8)
  expect(new Set(others)).toEqual(new Set([19]))
})
