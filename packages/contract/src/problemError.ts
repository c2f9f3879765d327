import type { ProblemType } from './problemTypes'

/** An error that the technician is told about, as a problem document. */
export class ProblemError extends Error {
  constructor(
    readonly type: ProblemType,
    readonly detail: string,
    readonly retryAfterS?: number,
  ) {
    super(`${type}: ${detail}`)
  }
}
