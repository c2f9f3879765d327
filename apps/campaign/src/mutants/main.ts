import { fork } from 'node:child_process'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { mutate, putTogether, type Mutated } from './mutate'

/** npm run -s mutants -- --count N --seed S: documents mutated from sound ones, on all cores, one JSON report. Exit 1 where one broke a rule. */
const usage = 'npm run -s mutants -- --count N --seed S'
const stop = (why: string): never => {
  console.error(`${why}\n${usage}`)
  process.exit(2)
}
const whole = (name: string, text: string): number => {
  const value = Number(text)
  return Number.isSafeInteger(value) && value >= 0 ? value : stop(`--${name} must be a whole number, not "${text}"`)
}
const values = (() => {
  try {
    const options = {
      count: { type: 'string', default: '2000' },
      seed: { type: 'string', default: '1' },
      share: { type: 'string' },
    } as const
    return parseArgs({ options }).values
  } catch (error) {
    return stop(error instanceof Error ? error.message : String(error))
  }
})()
const [count, seed] = [whole('count', values.count), whole('seed', values.seed)]

if (values.share !== undefined) {
  const [mine = 0, of = 1] = values.share.split('/').map(Number)
  process.send?.(await mutate(seed * 1_000_003 + mine, Math.floor((count + of - 1 - mine) / of)), () => process.disconnect())
} else {
  const began = performance.now()
  const workers = Math.max(1, Math.min(availableParallelism(), count))
  const share = (i: number) =>
    new Promise<Mutated>((resolve, reject) => {
      const worker = fork(fileURLToPath(import.meta.url), [...process.argv.slice(2), '--share', `${i}/${workers}`], {
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      })
      let found: Mutated | null = null
      worker.on('message', (message) => (found = message as Mutated))
      worker.on('exit', (code) =>
        found === null ? reject(new Error(`a share of the mutants ended with ${code}`)) : resolve(found),
      )
    })
  const whole = putTogether(await Promise.all(Array.from({ length: workers }, (_, i) => share(i))))
  console.log(JSON.stringify({ format: 'taraf-mutants/1', seed, ...whole, wallSeconds: (performance.now() - began) / 1000 }))
  if (whole.wrong.length > 0) process.exitCode = 1
}
