import type { AddressInfo } from 'node:net'
import { localGravity } from '@taraf/core/gravity'
import { demoBenches, demoRig } from '@taraf/rig'
import { z } from 'zod'
import { rigServer } from './rigServer'

/** Runs the demo's rigs, or `TARAF_RIG_COUNT` sound ones. Tells its parent the port, and ends with it. */
const options = z
  .object({
    TARAF_RIG_PORT: z.coerce.number().int().min(0).max(65535).default(0),
    TARAF_RIG_COUNT: z.coerce.number().int().min(1).max(200).optional(),
    TARAF_RIG_SEED: z.coerce.number().int().default(1),
    TARAF_LAT: z.coerce.number().min(-90).max(90).default(54.2),
  })
  .parse(process.env)

const gravity = localGravity({ lat: options.TARAF_LAT })
const plans =
  options.TARAF_RIG_COUNT === undefined
    ? demoBenches
    : Array.from({ length: options.TARAF_RIG_COUNT }, (_, i) => ({ bench: `row-${i + 1}`, board: `FB-${9000 + i}`, faults: {} }))
const rigs = new Map(
  plans.map(({ bench, board, faults }, i) => [bench, demoRig(board, faults, options.TARAF_RIG_SEED + i, gravity)]),
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
