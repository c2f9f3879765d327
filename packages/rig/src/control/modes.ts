import { functions, type SwitchFunction } from '../board/definitions'
import type { BoardSettings } from '../board/settings'

interface Band {
  readonly channel: number
  readonly low: number
  readonly high: number
}
/** A function of the switch plan: a channel within its band, and within a second one where the plan has two. */
export interface SwitchBands {
  readonly name: SwitchFunction
  readonly bands: readonly Band[]
}

/** The functions that have a switch. */
export const switchPlan = (settings: BoardSettings): SwitchBands[] =>
  functions.flatMap((name) => {
    const band = (channel: string, low: string, high: string): Band => ({
      channel: settings.get(`switch.${name}.${channel}`),
      low: settings.get(`switch.${name}.${low}`),
      high: settings.get(`switch.${name}.${high}`),
    })
    const first = band('channel', 'low', 'high')
    const second = band('withChannel', 'withLow', 'withHigh')
    return first.channel === 0 ? [] : [{ name, bands: second.channel === 0 ? [first] : [first, second] }]
  })

/** The functions that the switches ask for now. */
export const askedFunctions = (plan: readonly SwitchBands[], channels: readonly number[]): Set<SwitchFunction> =>
  new Set(plan.filter(({ bands }) => bands.every((b) => isWithin(b, channels))).map(({ name }) => name))

const isWithin = ({ channel, low, high }: Band, channels: readonly number[]): boolean => {
  const us = Math.round(channels[channel - 1] ?? 0)
  return us >= low && us <= high
}

/** Modes that steer, in the order in which the one asked for first wins. Without any the sticks ask for rates. */
const steering: readonly SwitchFunction[] = ['returnHome', 'position', 'altitude', 'selfLevel', 'blend', 'rate']
const needsFix: readonly SwitchFunction[] = ['returnHome', 'position']

/** The flight mode that is in force. What needs a fix falls back to self-level without one. */
export const modeOf = (asked: ReadonlySet<SwitchFunction>, fixed: boolean): SwitchFunction => {
  const found = steering.find((mode) => asked.has(mode)) ?? 'rate'
  return needsFix.includes(found) && !fixed ? 'selfLevel' : found
}

export const levelsItself = (mode: SwitchFunction): boolean => mode !== 'rate'
