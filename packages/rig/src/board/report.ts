import { socketUses } from '@taraf/contract'
import type { Airframe } from '../airframe'
import type { Sensors } from './sensors'
import type { BoardSettings } from './settings'

/** Loop periods of the choices of `loop.rate`, and the share of the processor that each takes. */
const loops = [
  { rateHz: 1000, load: 0.14 },
  { rateHz: 2000, load: 0.24 },
  { rateHz: 4000, load: 0.42 },
  { rateHz: 8000, load: 0.74 },
] as const

/** How the loop runs with everything that is on: rate, load, and the rms of its period's deviation as a share of it. */
export const loopReport = ({ board }: Airframe, settings: BoardSettings): { rateHz: number; load: number; jitter: number } => {
  const { rateHz, load: base } = loops[settings.get('loop.rate')] ?? loops[0]
  const on = ['position.use', 'compass.use', 'telemetry.use', 'log.use', 'video.use', 'esc.replies'].filter((s) =>
    settings.isOn(s),
  )
  const load = base + 0.012 * on.length + board.extraLoad
  const late = Math.max(0, load - 0.8)
  return { rateHz: load > 1 ? rateHz / load : rateHz, load: Math.min(1, load), jitter: 0.008 + board.extraJitter + late }
}

/** The sensors that the board was built for, whether each answers, and at which bus address it was looked for. */
export const sensorReport = (sensors: Sensors, settings: BoardSettings): { name: string; found: boolean; address: number }[] => [
  { name: 'imu', found: sensors.answers('imu'), address: 0 },
  { name: 'baro', found: sensors.answers('baro'), address: settings.get('baro.bus') },
  { name: 'compass', found: sensors.answers('compass'), address: settings.get('compass.bus') },
  { name: 'position', found: sensors.fix() !== null, address: 0 },
]

/** Whether a socket passes what is plugged into it: set to the right use, plug home, wires right, the other end alive. */
export const socketPasses = (airframe: Airframe, settings: BoardSettings, socket: number): boolean => {
  const wired = airframe.board.sockets[socket - 1]
  if (wired === undefined || wired.plugged === 'nothing' || wired.plug !== 'home') return false
  if (socketUses[settings.get(`socket.${socket}.use`)] !== wired.plugged) return false
  return wired.plugged !== 'position' || (airframe.fix.fitted && !airframe.fix.dead)
}

/** Whether the receiver's signal reaches the board: kind as set, lead in, and for a serial one a socket that passes. */
export const receiverReaches = (airframe: Airframe, settings: BoardSettings): boolean => {
  if (!airframe.receiver.lead || airframe.receiver.kind !== settings.get('radio.kind')) return false
  return (
    airframe.receiver.kind !== 2 ||
    airframe.board.sockets.some((s, i) => s.plugged === 'receiver' && socketPasses(airframe, settings, i + 1))
  )
}
