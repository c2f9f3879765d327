import type { Evidence, Finding, Remedy, Settings } from '@taraf/contract'
import { byHand, judgedAs, refusal } from '../check'
import { mean, median } from '../statistics'
import { leastMovedUs, movements } from './asked'
import { framesOf, leapsAlone, leastLeaps, mendControl, movedOf, unheard, type Frames, type Values } from './frames'
import { channelOf, controls, isReversed, strengthOf, type Control } from './sticks'
// Common practice: a hand that moves one stick takes the other along by less than a quarter.
const accidentShare = 0.25
const leastMix = 0.1
const startRows = 10
// What a stick finds back to differs by some us; one that is held aside is far off.
const fromRestUs = 60

/** How one control was found to be: its channel, which way it goes, and what else a mix takes along. */
export interface Moved {
  readonly channel: number
  readonly rises: boolean
  readonly mixed: Readonly<Record<string, number>>
}
interface Wrong {
  readonly why: string
}

/** Which channel each control is on, which way it goes, and whether anything is mixed to it. */
export const orderFindings = (evidence: Evidence): Finding[] => {
  const act = 'Run it again: one control at a time, once to that end and back, and nothing else.'
  const { settings } = evidence.board
  const strength = strengthOf(settings)
  const rest = framesOf(evidence, 'rest')
  if (rest === null) return unheard()
  const leaping = leapingIn(evidence, strength)
  if (leaping !== null) return leaping
  const restless = movedOf(
    rest,
    rest.there.filter((n) => n !== strength),
  )
  if (restless !== null) return refusal(`channel ${restless} moved while everything was to be left at rest`, act)
  const found = new Map<Control, Moved>()
  for (const control of controls) {
    const { label, words } = movements[control]
    const frames = framesOf(evidence, label)
    if (frames === null) return unheard(words)
    const moved = movedIn(frames, strength)
    if ('why' in moved) return refusal(`${words}: ${moved.why}`, act)
    if (Math.abs(startOf(frames, moved.channel) - startOf(rest, moved.channel)) > fromRestUs)
      return refusal(`${words}: channel ${moved.channel} did not start where it rests`, act)
    const other = [...found].find(([, m]) => m.channel === moved.channel)
    if (other !== undefined)
      return refusal(`channel ${moved.channel} moved for ${movements[other[0]].words} and for ${words}`, act)
    found.set(control, moved)
  }
  return controls.flatMap((control) => judge(evidence, control, found))
}

/** A control that leaps by itself in any of the steps, and what is done about it; null where none does. */
const leapingIn = (evidence: Evidence, strength: number): Finding[] | null => {
  const times = new Map<number, number>()
  for (const { label } of evidence.segments) {
    const frames = framesOf(evidence, label)
    if (frames === null) continue
    const numbers = frames.there.filter((number) => number !== strength)
    for (const [number, count] of leapsAlone(frames, numbers)) times.set(number, (times.get(number) ?? 0) + count)
  }
  const [found] = [...times].find(([, count]) => count >= leastLeaps) ?? []
  return found === undefined ? null : [judgedAs('leaps', `channel ${found}`, 'none', byHand(mendControl, ['mend transmitter']))]
}

/** The one channel that moved, or why that cannot be told. */
export const movedIn = (frames: Frames, strength: number): Moved | Wrong => {
  const away = frames.there
    .filter((number) => number !== strength)
    .map((number) => ({ number, us: awayFromStart(frames.channel(number) as Values) }))
  const farthest = away.reduce(
    (most, one) => (reachOf(one.us) > reachOf(most.us) ? one : most),
    away[0] ?? { number: 0, us: none },
  )
  const reach = reachOf(farthest.us)
  if (reach < leastMovedUs) return { why: 'no channel moved' }
  const high = Math.max(...farthest.us)
  const low = Math.min(...farthest.us)
  if (Math.min(high, -low) > accidentShare * reach) return { why: `channel ${farthest.number} moved both ways` }
  const mixed: Record<string, number> = {}
  for (const { number, us } of away) {
    if (number === farthest.number) continue
    const { slope, left } = lineOf(farthest.us, us)
    if (Math.max(...left.map(Math.abs)) > accidentShare * reach)
      return { why: `channels ${farthest.number} and ${number} moved, each by itself` }
    if (Math.abs(slope) >= leastMix && rms(left) <= 4 + 0.1 * deviationOf(us)) mixed[`ch${number}`] = slope
  }
  return { channel: farthest.number, rises: high > -low, mixed }
}

const none = new Float64Array(1)
const reachOf = (us: Values): number => us.reduce((most, value) => Math.max(most, Math.abs(value)), 0)

const startOf = (frames: Frames, channel: number): number => firstOf(frames.channel(channel) ?? none)
const firstOf = (us: Values): number => median(us.subarray(0, Math.min(startRows, us.length)))
const awayFromStart = (us: Values): Values => {
  const start = firstOf(us)
  return us.map((value) => value - start)
}

/** The least-squares line of `y` over `x`, and what it leaves. */
const lineOf = (x: Values, y: Values): { slope: number; left: Values } => {
  const [mx, my] = [mean(x), mean(y)]
  let [xx, xy] = [0, 0]
  for (let i = 0; i < x.length; i++) {
    const dx = (x[i] as number) - mx
    xx += dx * dx
    xy += dx * ((y[i] as number) - my)
  }
  const slope = xy / xx
  return { slope, left: y.map((value, i) => value - my - slope * ((x[i] as number) - mx)) }
}
const rms = (x: Values): number => Math.sqrt(x.reduce((sum, value) => sum + value * value, 0) / x.length)
const deviationOf = (x: Values): number => {
  const middle = mean(x)
  return rms(x.map((value) => value - middle))
}

const judge = (evidence: Evidence, control: Control, found: ReadonlyMap<Control, Moved>): Finding[] => {
  const { settings } = evidence.board
  const { channel, rises, mixed } = found.get(control) as Moved
  const wantedChannel = channelOf(settings, control)
  const way = rises ? 'rises' : 'falls'
  const wantedWay = isReversed(settings, control) ? 'falls' : 'rises'
  const verdict = (isRight: boolean, remedy: () => Remedy) =>
    isRight ? { verdict: 'pass' as const } : { verdict: 'fail' as const, remedy: remedy() }
  const mixes = Object.keys(mixed).map((name) => Number(name.slice(2)))
  return [
    {
      key: `${control}Channel`,
      value: channel,
      unit: '',
      limit: { equals: wantedChannel },
      ...verdict(channel === wantedChannel, () => mapRemedy(evidence.sheet.settings, settings, found)),
    },
    {
      key: `${control}Way`,
      value: way,
      unit: '',
      limit: { equals: wantedWay },
      ...verdict(way === wantedWay, () => wayRemedy(evidence.sheet.settings, settings, control, channel, way)),
    },
    {
      key: `${control}Mixed`,
      value: mixed,
      unit: '',
      limit: { equals: {} },
      ...verdict(mixes.length === 0, () => ({
        by: 'transmitter',
        act: `Take the mix of ${mixes.map((number) => `channel ${number} (${Math.round(100 * (mixed[`ch${number}`] ?? 0))} %)`).join(' and ')} from channel ${channel} out, on the transmitter.`,
        transmitter: mixes.map((number) => ({ channel: number, mix: null })),
      })),
    },
  ]
}

/** The whole map in one act: on the board where that differs from the sheet, else on the transmitter. */
const mapRemedy = (sheet: Settings | undefined, board: Settings | undefined, found: ReadonlyMap<Control, Moved>): Remedy => {
  const off = [...found].filter(([control, { channel }]) => channelOf(board, control) !== channel)
  const boardAsSheet = off.every(([control]) => sheet !== undefined && channelOf(sheet, control) === channelOf(board, control))
  if (boardAsSheet)
    return {
      by: 'transmitter',
      act: `Put the controls on these channels, on the transmitter: ${off.map(([c]) => `${c} on ${channelOf(board, c)}`).join(', ')}.`,
      transmitter: off.map(([control]) => ({ channel: channelOf(board, control), stick: control })),
    }
  return {
    by: 'settings',
    act: `Set the board's map: ${off.map(([control, { channel }]) => `${control} from channel ${channel}`).join(', ')}.`,
    settings: Object.fromEntries(off.map(([control, { channel }]) => [`radio.${control}.channel`, channel])),
  }
}

/** Inverted on the board where its own setting differs from the sheet's and that is what turns it; else on the transmitter. */
const wayRemedy = (
  sheet: Settings | undefined,
  board: Settings | undefined,
  control: Control,
  channel: number,
  way: 'rises' | 'falls',
): Remedy => {
  const name = `radio.${control}.reverse`
  const wanted = Number(sheet?.[name] ?? 0)
  if (sheet !== undefined && wanted !== Number(board?.[name] ?? 0) && (wanted === 1 ? 'falls' : 'rises') === way)
    return { by: 'settings', act: `Set ${name} to ${wanted}, as the build sheet says.`, settings: { [name]: wanted } }
  if (channel === 0) return byHand('Invert the channel of this control on the transmitter.')
  return {
    by: 'transmitter',
    act: `Invert channel ${channel} on the transmitter.`,
    transmitter: [{ channel, invert: true }],
  }
}
