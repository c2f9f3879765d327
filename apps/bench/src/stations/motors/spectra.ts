import { velocitySpectrum, wholeBand } from '@taraf/core/spectrum'

/** The spectrum of one motor as it is drawn: the strongest bin of each stretch of frequency, mm/s rms. */
export interface DrawnSpectrum {
  readonly output: number
  readonly stretches: readonly number[]
}
export const stretchCount = 200

type Burst = Readonly<Record<'t' | 'ax' | 'ay' | 'az', number[]>>

/** What a document of evidence has of bursts, output by output. Throws where it is none. */
export const spectraOf = (evidence: unknown): DrawnSpectrum[] =>
  segmentsOf(evidence).flatMap(({ label, streams }) => {
    const output = Number(/^output-(\d+)$/.exec(label)?.[1] ?? 0)
    const { imuBurst } = streams
    if (output === 0 || imuBurst === undefined) return []
    const { binHz, square } = velocitySpectrum(imuBurst)
    const stretches = Array<number>(stretchCount).fill(0)
    for (let k = Math.ceil(wholeBand.fromHz / binHz); k < square.length && k * binHz < wholeBand.toHz; k++) {
      const at = Math.floor((k * binHz * stretchCount) / wholeBand.toHz)
      stretches[at] = Math.max(stretches[at] ?? 0, 1000 * Math.sqrt(square[k] ?? 0))
    }
    return [{ output, stretches }]
  })

const segmentsOf = (evidence: unknown): { label: string; streams: { imuBurst?: Burst } }[] => {
  const { segments } = (evidence ?? {}) as { segments?: unknown }
  if (!Array.isArray(segments)) throw new Error('this is no evidence of a take')
  return segments as ReturnType<typeof segmentsOf>
}
