import type { BoardSetting, Settings, Sheet } from '@taraf/contract'
import { localGravity } from '@taraf/core/gravity'
import { Rig, injectFaults, shopAt, soundAirframe, soundSettings, type Airframe, type Shop } from '@taraf/rig'
import { demoPlace, sheets } from './world'

export interface RigOrder {
  readonly type: string
  readonly board: string
  readonly seed: number
  /** Of this run of the rig and no other, where its battery connections must be told from those of another. */
  readonly life?: string
  /** Faults of the catalogue, by id. */
  readonly faults?: readonly string[]
  /** What else is off, beyond the catalogue. */
  readonly spoil?: (airframe: Airframe, settings: Settings) => void
}

/** The demo's workshop as a simulated airframe feels it. */
export const demoShop = (at: Date): Shop => shopAt(demoPlace, localGravity(demoPlace), at)

export const sheetOf = (type: string): Sheet => {
  const found = sheets.find((s) => s.type === type)
  if (found === undefined) throw new Error(`the demo builds no ${type}`)
  return found
}

/** A simulated airframe of one of the demo's types, sound but for what is ordered. */
export const rigOf = ({ type, board, seed, life, faults = [], spoil }: RigOrder, shop: Shop): Rig => {
  const sheet = sheetOf(type)
  const airframe = soundAirframe(sheet, board, seed, shop)
  const settings = soundSettings(sheet)
  injectFaults(airframe, settings, faults, seed)
  spoil?.(airframe, settings)
  return new Rig({ seed, airframe, settings, ...(life === undefined ? {} : { life }) })
}

/** What a board of the demo says that its settings are. */
export const boardDefinitions = (at: Date): { target: string; version: string; settings: BoardSetting[] } => {
  const { board } = rigOf({ type: 'N4', board: 'FB-0', seed: 1 }, demoShop(at))
  return { target: board.identity.target, version: board.identity.firmware?.version ?? '', settings: board.settings.list() }
}
