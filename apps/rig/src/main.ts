import { randomUUID } from 'node:crypto'
import type { AddressInfo } from 'node:net'
import { benchesReplaying, demoBenches, demoShop, drawFromText, drawnAt, rigOf, type BenchOrder } from '@taraf/demo'
import { z } from 'zod'
import { rigServer } from './rigServer'

/**
 * Runs the demo's rigs, or `TARAF_RIG_COUNT` sound ones, or the demo's with an airframe of a campaign on one bench
 * (`TARAF_RIG_REPLAY`: its seed, a slash, and the draw). Tells its parent the port, and ends with it.
 */
const options = z
  .object({
    TARAF_RIG_PORT: z.coerce.number().int().min(0).max(65535).default(0),
    TARAF_RIG_COUNT: z.coerce.number().int().min(1).max(200).optional(),
    TARAF_RIG_SEED: z.coerce.number().int().default(1),
    TARAF_RIG_REPLAY: z.string().optional(),
  })
  .parse(process.env)

const refuse = (why: string): never => {
  process.send?.({ stop: why, todo: 'Give the seed and the draw as the campaign printed them: npm start -- --replay SEED/MOST' })
  process.exit(2)
}

const replayed = (text: string): readonly BenchOrder[] => {
  const [seed = '', ...draw] = text.split('/')
  const drawn = drawFromText(draw.join('/'))
  if (!/^\d{1,10}$/.test(seed)) return refuse(`--replay: "${seed}" is no seed.`)
  if (typeof drawn === 'string') return refuse(`--replay: ${drawn}.`)
  const orders = benchesReplaying(Number(seed), drawn)
  const { bench, type, faults = [] } = orders.find((o) => o.faults !== undefined) ?? refuse('--replay: no bench builds its type.')
  console.log(`On the ${bench} bench lies airframe ${seed} of the campaign (${type}), with ${faults.join(', ') || 'no fault'}.`)
  return orders
}

const row = (count: number): readonly BenchOrder[] =>
  Array.from({ length: count }, (_, i) => ({ bench: `row-${i + 1}`, type: 'N4', board: `FB-${9000 + i}`, seed: i }))

/** No battery connection of this run has the name of one of another run. */
const life = randomUUID().slice(0, 8)
const { TARAF_RIG_COUNT: count, TARAF_RIG_REPLAY: replay, TARAF_RIG_SEED: shift } = options
const rigs = new Map(
  replay !== undefined
    ? replayed(replay).map(({ bench, ...order }) => [bench, rigOf({ ...order, life }, demoShop(drawnAt))])
    : (count === undefined ? demoBenches : row(count)).map(({ bench, ...order }) => [
        bench,
        rigOf({ ...order, seed: shift + order.seed, life }, demoShop(new Date())),
      ]),
)

const { server, stop } = rigServer(rigs)
server.on('error', (error) => {
  console.error(`the rig cannot listen: ${error.message}`)
  process.exit(1)
})
server.listen(options.TARAF_RIG_PORT, '127.0.0.1', () => {
  process.send?.({ ready: (server.address() as AddressInfo).port })
})
const end = () => {
  stop()
  process.exit(0)
}
process.on('disconnect', end)
process.on('SIGTERM', end)
process.on('SIGINT', end)
