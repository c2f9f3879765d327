import type { Request } from 'express'
import { ProblemError } from './problem'

/** The bytes of a file that came as the body. */
export const bytesOf = (request: Request): Buffer => {
  const body: unknown = request.body
  if (!Buffer.isBuffer(body) || body.length === 0) throw new ProblemError('file-wrong', 'The file is empty.')
  return body
}
