import {
  senseColumn,
  streamColumns,
  type ImuStage,
  type Segment,
  type SenseColumn,
  type SenseTell,
  type StreamTell,
} from '@taraf/contract'
import { HoldWatch, holdWords, type CaptureSegment, type Vec3 } from '@taraf/core'
import { ProblemError } from '../http/problem'
import type { BenchLink } from '../links/benchLink'

/** A capture that ended before it was whole: the take is refused with this reason. */
export class CaptureLost extends Error {}

/** Why nothing is proved by what a lost link cut off, before the stop that ends the sentence. */
export const linkLost = (detail: string): string => `the link was lost. ${detail.replace(/\.$/, '')}`

/** How often a segment that may end early asks whether it can. */
const askEveryS = 5

export interface Guide {
  readonly words: string
  readonly tiltDeg: number
}
export interface CaptureOrder {
  readonly stage: ImuStage
  readonly wanted: CaptureSegment
  /** The poses already captured: the first is what tilts are measured from. */
  readonly before: readonly Segment[]
  readonly signal: AbortSignal
  /** Whether the check can decide by what there is so far: asked every few seconds where the segment may end early. */
  readonly decided?: (soFar: Segment) => boolean
  readonly progress: (share: number, guide: Guide | null) => void
}

/**
 * Captures one segment from the full-rate stream. Ends when its seconds are there, or what it waits for; a pose held by hand
 * begins by itself once it is far enough and still, and begins anew when it moves. Throws CaptureLost where the link is lost or the
 * samples are bad, and the signal's reason where it is aborted.
 */
export const captureSegment = (
  link: BenchLink,
  { stage, wanted, before, signal, progress, decided = () => false }: CaptureOrder,
): Promise<Segment> =>
  new Promise((resolve, reject) => {
    const { label, seconds, leastSeconds = seconds, streams = [], until } = wanted
    let blocks: SenseTell[] = []
    const others: StreamTell[] = []
    const watch = wanted.hold === undefined ? null : watchOf(wanted.hold.leastDeg, seconds, before)
    const soFar = (): Segment => ({ label, streams: { ...streamsOf(stage, blocks), ...othersOf(others) } })
    const done = () => end(() => resolve(soFar()))
    let askAt = leastSeconds
    const takeBlock = (block: SenseTell) => {
      if (block.stage !== stage) return
      blocks.push(block)
      const reached = watch === null ? timed() : held(watch, block)
      if (reached >= 1) done()
    }
    const timed = (): number => {
      const [first, last] = [blocks[0], blocks[blocks.length - 1]]
      const elapsed = (last?.t[last.t.length - 1] ?? 0) - (first?.t[0] ?? 0)
      progress(Math.min(1, elapsed / (elapsed < leastSeconds ? leastSeconds : seconds)), null)
      if (elapsed >= askAt && askAt < seconds) {
        askAt += Math.min(askEveryS, leastSeconds)
        if (decided(soFar())) return 1
      }
      return elapsed / seconds
    }
    const held = (hold: HoldWatch, block: SenseTell): number => {
      let state = null
      for (let i = 0; i < block.t.length; i++) state = hold.push(block.t[i] as number, ...rowOf(block, i))
      if (state === null) return 0
      if (state.share === 0) blocks = []
      progress(state.share, { words: holdWords(state, wanted.hold?.leastDeg ?? 0), tiltDeg: Math.round(state.tiltDeg) })
      return state.share
    }
    const takeStream = (block: StreamTell) => {
      if (!streams.some((name) => name === block.stream)) return
      others.push(block)
      // The first column of what can be waited for says whether it is there.
      if (block.stream === until && block.values.subarray(0, block.t.length).includes(1)) done()
    }
    const fault = (why: string) => end(() => reject(new CaptureLost(why)))
    const phase = () => link.phase !== 'up' && fault(linkLost(link.detail))
    const abort = () =>
      end(() => reject(signal.reason instanceof Error ? signal.reason : new ProblemError('no-take', 'The take was stopped.')))
    const end = (settle: () => void) => {
      link.off('block', takeBlock)
      link.off('stream', takeStream)
      link.off('fault', fault)
      link.off('phase', phase)
      signal.removeEventListener('abort', abort)
      settle()
    }
    link.on('block', takeBlock)
    link.on('stream', takeStream)
    link.on('fault', fault)
    link.on('phase', phase)
    signal.addEventListener('abort', abort)
    if (signal.aborted) abort()
  })

const watchOf = (leastDeg: number, seconds: number, before: readonly Segment[]): HoldWatch => {
  const forces = before.map(meanForce)
  return new HoldWatch(seconds, leastDeg, forces[0] ?? [0, 0, -1], forces.slice(1))
}

const meanForce = ({ streams: { imu } }: Segment): Vec3 => {
  const meanOf = (column: ArrayLike<number> = []) =>
    Array.from(column).reduce((sum, v) => sum + v, 0) / Math.max(1, column.length)
  return [meanOf(imu?.ax), meanOf(imu?.ay), meanOf(imu?.az)]
}

/** Force and rate of one row of a block. */
const rowOf = (block: SenseTell, i: number): [Vec3, Vec3] => {
  const at = (name: SenseColumn) => senseColumn(block, name)[i] as number
  return [
    [at('ax'), at('ay'), at('az')],
    [at('gx'), at('gy'), at('gz')],
  ]
}

const streamsOf = (stage: ImuStage, blocks: readonly SenseTell[]): Segment['streams'] => {
  const t = timesOf(blocks)
  const join = (name: SenseColumn) => joined(blocks.map((block) => senseColumn(block, name)))
  return {
    imu: { stage, t, ax: join('ax'), ay: join('ay'), az: join('az'), gx: join('gx'), gy: join('gy'), gz: join('gz') },
    attitude: { t, roll: join('roll'), pitch: join('pitch'), yaw: join('yaw') },
  }
}

/** The other streams as evidence names their columns. */
const othersOf = (blocks: readonly StreamTell[]): Partial<Segment['streams']> =>
  Object.fromEntries(
    (['mag', 'baro', 'fix', 'power', 'meter'] as const).flatMap((name) => {
      const mine = blocks.filter((b) => b.stream === name)
      if (mine.length === 0) return []
      const columns = streamColumns[name].map((column, c) => [
        column,
        joined(mine.map(({ t, values }) => values.subarray(c * t.length, (c + 1) * t.length))),
      ])
      return [[name, { t: timesOf(mine), ...Object.fromEntries(columns) }]]
    }),
  )

const timesOf = (blocks: readonly { t: Float64Array }[]): Float64Array<ArrayBuffer> =>
  Float64Array.from(blocks.flatMap((block) => [...block.t]))

const joined = (parts: readonly Float32Array[]): Float32Array<ArrayBuffer> => {
  const whole = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.length
  }
  return whole
}
