import type { Finding } from '@taraf/contract'
import type { Check } from '../check'

/** The check whose takes are hover proofs. */
export const hoverProof = 'hover.hop'

/** Whether a check is given the hover proofs on the record: it is judged against them, or is one itself, held against others of its type. */
export const wantsHovers = ({ id, reads }: Pick<Check, 'id' | 'reads'>): boolean => reads.hover === true || id === hoverProof

/** Another command in hover by more than this spoils what was judged against it, 0..1. */
const mostChange = 0.02

/**
 * Whether a hop spoils a result that is judged against the command in hover, both by what their takes found: by another command than the one
 * it was judged against, and by any where nobody knew one then.
 */
export const hoversOtherwise = (judged: readonly Finding[], flown: readonly Finding[]): boolean => {
  const of = (findings: readonly Finding[], key: string): number | null => {
    const value = findings.find((finding) => finding.key === key)?.value
    return typeof value === 'number' ? value : null
  }
  const [against, command] = [of(judged, 'hover'), of(flown, 'hoverThrottle')]
  if (command === null) return false
  if (against === null) return true
  const [mid, volts] = [of(judged, 'hoverVolts'), of(flown, 'volts')]
  const atMid = mid === null || volts === null ? command : (command * volts) / mid
  return Math.abs(atMid - against) > mostChange
}
