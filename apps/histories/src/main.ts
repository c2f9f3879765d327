import { fork } from 'node:child_process'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { ShopBase, type Urls } from './base'
import { runHistory, type HistoryNote } from './history'

/** npm run -s histories -- --count N --seed S: N histories of a whole shop on all cores, one JSON report; --replay SEED tells one step by step. */
const usage = 'npm run -s histories -- --count N --seed S, or --replay SEED'
const stop = (why: string): never => {
  console.error(`${why}\n${usage}`)
  process.exit(2)
}
const options = () => {
  try {
    return parseArgs({
      options: {
        count: { type: 'string', default: '100' },
        seed: { type: 'string', default: '1' },
        replay: { type: 'string' },
        share: { type: 'string' },
      },
    }).values
  } catch (error) {
    return stop(error instanceof Error ? error.message : String(error))
  }
}
const whole = (name: string, text: string, least: number): number => {
  const value = Number(text)
  return Number.isSafeInteger(value) && value >= least
    ? value
    : stop(`--${name} must be a whole number from ${least} on, not "${text}"`)
}
const values = options()
const count = whole('count', values.count, 1)
const seed = whole('seed', values.seed, 0)
/** Seeds of one run lie together, those of another elsewhere. */
const seedAt = (i: number): number => (seed * 1_000_003 + i) % 2 ** 31
const urls = JSON.parse(process.env.TARAF_URLS ?? '{}') as Urls

if (values.replay !== undefined) {
  const base = await ShopBase.make(urls, 'replay')
  const note = await runHistory(base, whole('replay', values.replay, 0), (words) => console.log(words))
  await base.close()
  process.exit(note.broken.length === 0 ? 0 : 1)
} else if (values.share !== undefined) {
  const [mine = 0, of = 1] = values.share.split('/').map(Number)
  const base = await ShopBase.make(urls, `share_${mine}`)
  for (let i = mine; i < count; i += of) process.send?.(await runHistory(base, seedAt(i)))
  await base.close()
  process.exit(0)
} else {
  const began = performance.now()
  const workers = Math.max(1, Math.min(availableParallelism(), count))
  const notes: HistoryNote[] = []
  const share = (i: number) =>
    new Promise<void>((resolve, reject) => {
      const worker = fork(fileURLToPath(import.meta.url), [...process.argv.slice(2), '--share', `${i}/${workers}`], {
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      })
      worker.on('message', (note: HistoryNote) => {
        notes.push(note)
        if (note.broken.length > 0) console.error(`${note.seed}: ${note.broken.join('; ')}`)
        if (notes.length % 100 === 0) console.error(`${notes.length} of ${count}`)
      })
      worker.on('exit', (code) => (code === 0 ? resolve() : reject(new Error(`a share of the histories ended with ${code}`))))
    })
  await Promise.all(Array.from({ length: workers }, (_, i) => share(i)))
  const wrong = notes.filter(({ broken }) => broken.length > 0).sort((a, b) => a.seed - b.seed)
  const sum = (of: (note: HistoryNote) => number) => notes.reduce((total, note) => total + of(note), 0)
  const verdicts = [...new Set(notes.flatMap(({ takes }) => Object.keys(takes)))].sort()
  console.log(
    JSON.stringify({
      format: 'taraf-histories/1',
      seed,
      count,
      seconds: Math.round((performance.now() - began) / 1000),
      shopSeconds: Math.round(sum(({ seconds }) => seconds)),
      strikes: sum(({ strikes }) => strikes),
      notes: sum((note) => note.notes),
      takes: Object.fromEntries(verdicts.map((verdict) => [verdict, sum(({ takes }) => takes[verdict] ?? 0)])),
      broken: wrong.map((note) => ({ seed: note.seed, broken: note.broken })),
    }),
  )
  for (const note of wrong) console.error(`to follow it step by step: npm run -s histories -- --replay ${note.seed}`)
  process.exit(wrong.length === 0 ? 0 : 1)
}
