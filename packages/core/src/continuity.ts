import type { Column, StreamEntry } from '@taraf/contract'
import { mean, median } from './statistics'

/**
 * Why the rows of a stream do not follow each other as its own entry of the table wants, or null: too short, sent twice, too few a
 * second, a gap, too many lost.
 */
export const discontinuity = (
  t: Column,
  wantedS: number,
  { leastHz, longestGapS, lostShare }: Pick<StreamEntry, 'leastHz' | 'longestGapS' | 'lostShare'>,
): string | null => {
  const n = t.length
  const span = n < 2 ? 0 : (t[n - 1] as number) - (t[0] as number)
  // The last row of a slow stream comes up to a step before the end.
  const lastS = n < 2 ? 0 : span / (n - 1)
  if (span + Math.min(lastS, wantedS / 10) < wantedS * 0.98)
    return `only ${span.toFixed(2)} s were captured where ${wantedS} s are wanted`
  const steps = new Float64Array(n - 1)
  for (let i = 0; i < n - 1; i++) steps[i] = (t[i + 1] as number) - (t[i] as number)
  let longest = 0
  for (const step of steps) {
    if (!(step > 0)) return 'the times of its samples do not rise'
    if (step > longest) longest = step
  }
  if (longestGapS !== null && longest > longestGapS * 1.001) return `samples are missing for ${Math.round(longest * 1000)} ms`
  const usual = usualStep(steps)
  // What may fall silent is counted while it speaks.
  const hz = longestGapS === null ? 1 / usual : (n - 1) / span
  if (leastHz !== null && hz < leastHz) return `only ${hz.toFixed(1)} samples came in a second where ${leastHz} are the least`
  const expected = span / usual + 1
  const lost = 1 - n / expected
  return lost > lostShare ? `${(lost * 100).toFixed(1)} % of the samples are lost` : null
}

/** The step from row to row where none is lost. Not the middle one itself: times that are rounded have only a few steps, each a little off. */
const usualStep = (steps: Float64Array): number => {
  const middle = median(steps)
  return mean(steps.filter((step) => step > middle / 2 && step < 1.5 * middle))
}
