import type { Column } from '@taraf/contract'
import { median } from './statistics'

const longestGapS = 0.05
const lostShare = 0.01

/** Why a stream that should be continuous is not, or null: gaps over 50 ms (or two samples of a slow one), 1 % lost, too short, sent twice. */
export const discontinuity = (t: Column, wantedS: number): string | null => {
  const n = t.length
  const span = n < 2 ? 0 : (t[n - 1] as number) - (t[0] as number)
  if (span < wantedS * 0.98) return `only ${span.toFixed(2)} s were captured where ${wantedS} s are wanted`
  const steps = new Float64Array(n - 1)
  for (let i = 0; i < n - 1; i++) steps[i] = (t[i + 1] as number) - (t[i] as number)
  if (steps.some((step) => step <= 0)) return 'the times of its samples do not rise'
  const longest = steps.reduce((most, step) => Math.max(most, step), 0)
  // A stream that comes more slowly than ten times in half a second has its own measure of a gap.
  if (longest > Math.max(longestGapS, 2.5 * median(steps))) return `samples are missing for ${Math.round(longest * 1000)} ms`
  const expected = span / median(steps) + 1
  const lost = 1 - n / expected
  if (lost > lostShare) return `${(lost * 100).toFixed(1)} % of the samples are lost`
  return null
}
