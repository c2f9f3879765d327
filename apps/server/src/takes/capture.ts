import { senseColumn, type SenseColumn, type ImuStage, type Segment, type SenseTell } from '@taraf/contract'
import type { CaptureSegment } from '@taraf/core'
import { ProblemError } from '../http/problem'
import type { BenchLink } from '../links/benchLink'

/** A capture that ended before it was whole: the take is refused with this reason. */
export class CaptureLost extends Error {}

/**
 * Captures one segment from the full-rate stream. Ends when its seconds are there; throws CaptureLost where the link is
 * lost or the samples are bad, and the signal's reason where it is aborted.
 */
export const captureSegment = (
  link: BenchLink,
  stage: ImuStage,
  { label, seconds }: CaptureSegment,
  signal: AbortSignal,
  progress: (share: number) => void,
): Promise<Segment> =>
  new Promise((resolve, reject) => {
    const blocks: SenseTell[] = []
    let firstT: number | null = null
    const takeBlock = (block: SenseTell) => {
      if (block.stage !== stage) return
      firstT ??= block.t[0] as number
      blocks.push(block)
      const reached = (block.t[block.t.length - 1] as number) - firstT
      progress(Math.min(1, reached / seconds))
      if (reached >= seconds) end(() => resolve({ label, streams: streamsOf(stage, blocks) }))
    }
    const fault = (why: string) => end(() => reject(new CaptureLost(why)))
    const phase = () => link.phase !== 'up' && fault(`the link was lost: ${link.detail}`)
    const abort = () =>
      end(() => reject(signal.reason instanceof Error ? signal.reason : new ProblemError('no-take', 'The take was stopped.')))
    const end = (settle: () => void) => {
      link.off('block', takeBlock)
      link.off('fault', fault)
      link.off('phase', phase)
      signal.removeEventListener('abort', abort)
      settle()
    }
    link.on('block', takeBlock)
    link.on('fault', fault)
    link.on('phase', phase)
    signal.addEventListener('abort', abort)
    if (signal.aborted) abort()
  })

const streamsOf = (stage: ImuStage, blocks: readonly SenseTell[]): Segment['streams'] => {
  const rows = blocks.reduce((sum, block) => sum + block.t.length, 0)
  const join = (name: SenseColumn): Float32Array<ArrayBuffer> => {
    const column = new Float32Array(rows)
    let at = 0
    for (const block of blocks) {
      column.set(senseColumn(block, name), at)
      at += block.t.length
    }
    return column
  }
  const t = Float64Array.from(blocks.flatMap((block) => [...block.t]))
  return {
    imu: { stage, t, ax: join('ax'), ay: join('ay'), az: join('az'), gx: join('gx'), gy: join('gy'), gz: join('gz') },
    attitude: { t, roll: join('roll'), pitch: join('pitch'), yaw: join('yaw') },
  }
}
