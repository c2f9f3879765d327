import type { SheetPart } from '@taraf/contract'
import { controlChannels, controls } from '@taraf/core'

/** One channel as it is drawn: what hangs on it, and where its gates and the edges of its bands lie, us. */
export interface ChannelRule {
  readonly channel: number
  readonly name: string
  readonly notches: readonly number[]
}

const setting = ({ settings }: SheetPart, name: string, otherwise: number): number => settings?.[name] ?? otherwise

/** The channels that a sheet gives to a stick, to a switch or to the strength, in their order. */
export const channelRules = (sheet: SheetPart): ChannelRule[] => {
  const [low, high] = [setting(sheet, 'radio.lowGate', 1060), setting(sheet, 'radio.highGate', 1940)]
  const ofSticks = controlChannels(sheet).map((channel, i) => ({ channel, name: controls[i] ?? '', notches: [low, high] }))
  const ofSwitches = (sheet.switches ?? []).map(({ name, channel }) => ({
    channel,
    name,
    notches: edgesOn(sheet, channel),
  }))
  const strength = setting(sheet, 'radio.strengthChannel', 0)
  return [...ofSticks, ...ofSwitches, ...(strength > 0 ? [{ channel: strength, name: 'strength', notches: [] }] : [])].sort(
    (a, b) => a.channel - b.channel,
  )
}

/** The edges of all bands on a channel, each once. Those at the ends of what a channel can say are no edges. */
export const edgesOn = ({ switchPlan = [] }: SheetPart, channel: number): number[] =>
  [
    ...new Set(
      switchPlan
        .flatMap((row) => [row, ...(row.with === undefined ? [] : [row.with])])
        .filter((band) => band.channel === channel)
        .flatMap(({ from, to }) => [from, to]),
    ),
  ]
    .filter((us) => us > 950 && us < 2050)
    .sort((a, b) => a - b)

/** How far up its rule a pulse lies, 0 to 1. */
export const shareOf = (us: number): number => Math.max(0, Math.min(1, (us - 900) / 1200))
