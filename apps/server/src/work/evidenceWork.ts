import type { Evidence } from '@taraf/contract'
import { packEvidence, type PackedEvidence } from '../files/packEvidence'

/** Five minutes of samples take a tenth of a second to compress. */
export const pack = (evidence: Evidence): PackedEvidence => packEvidence(evidence)
