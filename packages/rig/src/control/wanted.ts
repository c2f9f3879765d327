import type { SwitchFunction } from '../board/definitions'
import type { BoardSettings } from '../board/settings'
import type { Failsafe } from './failsafe'
import type { Wanted } from './loops'
import { levelsItself } from './modes'

/** What the sticks say: turns from -1 to 1, throttle from 0 to 1 between its gates and in us. */
export interface Sticks {
  readonly roll: number
  readonly pitch: number
  readonly yaw: number
  readonly throttle: number
  readonly throttleUs: number
}

/** Where it is from home, m, and how fast it goes, m/s, by its position receiver. */
export interface FromHome {
  readonly north: number
  readonly east: number
  readonly northwards: number
  readonly eastwards: number
}

interface View {
  readonly sticks: Sticks
  readonly mode: SwitchFunction
  readonly control: Failsafe['control']
  readonly act: Failsafe['act']
  readonly yaw: number
  readonly heightM: number
  readonly climbMps: number
  readonly heightHeld: number | null
  readonly fromHome: FromHome | null
}

const climbShare = 0.08 // of command, for each metre of height that is missing
const sinkShare = 0.08 // of command, against each m/s of climb
const leanShare = 0.12 // of full lean, for each m/s that is missing
const homeSpeed = 5 // m/s
const sinkM = 3

/** What the loops are asked for: by the sticks, held while a loss is waited out, or by what failsafe does. */
export const wantedOf = (settings: BoardSettings, view: View): Wanted => {
  const { sticks, control, mode } = view
  const levels = levelsItself(mode)
  if (control === 'act') return acted(settings, view)
  if (control === 'held' && settings.get('loss.hold') === 1)
    return { roll: 0, pitch: 0, yaw: 0, collective: sticks.throttle, levels: levels || settings.isOn('loss.levels') }
  if (mode === 'returnHome') return homeward(settings, view, settings.get('home.height'))
  const collective =
    view.heightHeld === null ? sticks.throttle : heldHeight(settings, view, view.heightHeld + (sticks.throttle - 0.5) * 2 * sinkM)
  const still = mode === 'position' && view.fromHome !== null && sticks.roll === 0 && sticks.pitch === 0
  return { roll: still ? 0 : sticks.roll, pitch: still ? 0 : sticks.pitch, yaw: sticks.yaw, collective, levels }
}

const acted = (settings: BoardSettings, view: View): Wanted => {
  if (view.act === 'return home' && view.fromHome !== null) return homeward(settings, view, settings.get('home.height'))
  const levels = settings.isOn('loss.levels')
  const { roll, pitch } = view.sticks
  return { roll: levels ? 0 : roll, pitch: levels ? 0 : pitch, yaw: 0, collective: settings.get('loss.throttle'), levels }
}

/** Climbs, flies back, and sinks above home: the lean follows the speed that is missing. */
const homeward = (settings: BoardSettings, view: View, heightWanted: number): Wanted => {
  const { yaw, fromHome } = view
  const { north, east, northwards, eastwards } = fromHome ?? { north: 0, east: 0, northwards: 0, eastwards: 0 }
  const distance = Math.hypot(north, east)
  const speed = Math.min(homeSpeed, distance * 0.4) / Math.max(distance, 0.1)
  const lean = (missing: number) => Math.max(-0.5, Math.min(0.5, missing * leanShare))
  const [toNorth, toEast] = [lean(-north * speed - northwards), lean(-east * speed - eastwards)]
  return {
    roll: toEast * Math.cos(yaw) - toNorth * Math.sin(yaw),
    pitch: toNorth * Math.cos(yaw) + toEast * Math.sin(yaw),
    yaw: 0,
    collective: heldHeight(settings, view, distance < 2 ? 0 : heightWanted),
    levels: true,
  }
}

const heldHeight = (settings: BoardSettings, { heightM, climbMps }: View, wantedM: number): number => {
  const error = Math.max(-1.5, Math.min(1.5, wantedM - heightM))
  return Math.max(0.05, Math.min(0.9, settings.get('rotor.hover') + climbShare * error - sinkShare * climbMps))
}
