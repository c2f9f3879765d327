import { randomFrom } from '../../rig/src/random'
import type { Evidence, Observation, Segment, Settings } from '@taraf/contract'

/** Where a channel is at a time, us; a channel that is not named stays at 1500. */
export type Course = Readonly<Record<number, (t: number) => number>>
interface Made {
  readonly seconds: number
  readonly hz?: number
  readonly noiseUs?: number
  readonly seed?: number
  /** Whether the frame of a row is lost. */
  readonly lost?: (row: number) => boolean
  readonly channels?: number
}

/** Frames as a receiver hands them on: whole microseconds, one row a frame, quality 0 where one was lost. */
export const framesSegment = (
  label: string,
  course: Course,
  { seconds, hz = 150, noiseUs = 0.7, seed = 1, lost = () => false, channels = 12 }: Made,
): Segment => {
  const random = randomFrom(seed)
  const rows = Math.round(seconds * hz)
  const t = Array.from({ length: rows }, (_, i) => i / hz)
  const numbers = Array.from({ length: channels }, (_, i) => i + 1)
  const columns = Object.fromEntries(
    numbers.map((number) => [
      `ch${number}`,
      t.map((at) => Math.round((course[number]?.(at) ?? 1500) + noiseUs * random.normal())),
    ]),
  )
  return { label, streams: { radio: { t, ...columns, quality: t.map((_, i) => (lost(i) ? 0 : 1)) } } }
}

/** From one value to others at times, held in between, moved within 0.2 s. */
export const through =
  (...points: readonly (readonly [at: number, us: number])[]) =>
  (t: number): number => {
    let us = points[0]?.[1] ?? 1500
    for (const [at, next] of points) if (t >= at) us += (next - us) * Math.min(1, (t - at) / 0.2)
    return us
  }

export const plainSettings: Settings = {
  'radio.throttle.channel': 3,
  'radio.roll.channel': 1,
  'radio.pitch.channel': 2,
  'radio.yaw.channel': 4,
  'radio.lowGate': 1060,
  'radio.highGate': 1940,
  'radio.strengthChannel': 12,
  'switch.arm.channel': 5,
}

export const radioEvidence = (
  segments: readonly Segment[],
  settings: Settings = plainSettings,
  more: { readonly sheet?: Settings; readonly observations?: Observation[] } = {},
): Evidence =>
  ({
    sheet: more.sheet === undefined ? {} : { settings: more.sheet },
    board: { settings },
    segments,
    observations: more.observations ?? [],
  }) as unknown as Evidence
