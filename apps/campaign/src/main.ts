import { fork } from 'node:child_process'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { drawOf, drawnOrder, drawToText } from '@taraf/demo'
import { faultStations, type FaultStation } from '@taraf/rig'
import { runAirframe, type AirframeNote } from './campaign'
import { reportOf } from './report'

/** npm run -s campaign -- --count N --seed S [--faults j..k] [--disturb 0..k] [--stations a,b]: N airframes on all cores, one JSON report. */
const usage = 'npm run -s campaign -- --count N --seed S [--faults j..k] [--disturb 0..k] [--stations a,b]'
const stop = (why: string): never => {
  console.error(`${why}\n${usage}`)
  process.exit(2)
}
const whole = (name: string, text: string, least: number): number => {
  const value = Number(text)
  return Number.isSafeInteger(value) && value >= least
    ? value
    : stop(`--${name} must be a whole number from ${least} on, not "${text}"`)
}
const options = () => {
  try {
    return parseArgs({
      options: {
        count: { type: 'string', default: '50' },
        seed: { type: 'string', default: '1' },
        faults: { type: 'string', default: '0..2' },
        disturb: { type: 'string', default: '0' },
        stations: { type: 'string' },
        share: { type: 'string' },
      },
    }).values
  } catch (error) {
    return stop(error instanceof Error ? error.message : String(error))
  }
}
const values = options()
const count = whole('count', values.count, 1)
const seed = whole('seed', values.seed, 0)
const [leastText = '0', mostText = leastText] = values.faults.split('..')
const least = values.faults.includes('..') ? whole('faults', leastText, 0) : 0
const most = whole('faults', mostText, least)
const disturb = whole('disturb', values.disturb.replace(/^0\.\./, ''), 0)
const named = values.stations?.split(',') ?? null
for (const name of named ?? [])
  if (!faultStations.includes(name as FaultStation)) stop(`no station "${name}"; there are ${faultStations.join(', ')}`)
const stations = named as FaultStation[] | null
const draw = drawOf(most, stations)
/** So many seeds without an airframe that is wanted, and there is none. */
const mostPassedOver = 10_000
/** Seeds of one campaign lie together, those of another elsewhere. What has fewer faults than wanted is passed over. */
const seedsOf = (): number[] => {
  const found: number[] = []
  for (let [at, passedOver] = [seed * 1_000_003, 0]; found.length < count; at++) {
    const one = at % 2 ** 31
    if (least === 0 || drawnOrder(one, draw).faults.length >= least) {
      found.push(one)
      passedOver = 0
    } else if (++passedOver > mostPassedOver) return stop(`no airframe has ${least} or more faults of these stations`)
  }
  return found
}

if (values.share !== undefined) {
  const [mine = 0, of = 1] = values.share.split('/').map(Number)
  for (const [i, one] of seedsOf().entries()) if (i % of === mine) process.send?.(await runAirframe(one, draw, disturb))
  process.disconnect?.()
} else {
  const began = performance.now()
  const workers = Math.max(1, Math.min(availableParallelism(), count))
  const notes: AirframeNote[] = []
  const share = (i: number) =>
    new Promise<void>((resolve, reject) => {
      const worker = fork(fileURLToPath(import.meta.url), [...process.argv.slice(2), '--share', `${i}/${workers}`], {
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      })
      worker.on('message', (note) => void notes.push(note as AirframeNote))
      worker.on('exit', (code) => (code === 0 ? resolve() : reject(new Error(`a share of the campaign ended with ${code}`))))
    })
  await Promise.all(Array.from({ length: workers }, (_, i) => share(i)))
  notes.sort((a, b) => a.seed - b.seed)
  const report = reportOf(seed, notes, (performance.now() - began) / 1000)
  console.log(JSON.stringify(report))
  for (const bad of new Set([...report.escaped, ...report.stuckSeeds.map((s) => s.seed)]))
    console.error(`to see it at the bench: npm start -- --replay ${bad}/${drawToText(most, stations)}`)
  process.exit(report.escaped.length > 0 ? 1 : 0)
}
