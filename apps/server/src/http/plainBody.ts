import type { RequestHandler } from 'express'
import { ProblemError } from '@taraf/contract'

const mostLevels = 60

/** Bodies as any part of the server can work with them: not nested without end, every number one, no text that is none (RFC 3629). */
export const plainBody: RequestHandler = (request, _response, next) => {
  const wrong = wrongIn(request.body)
  next(wrong === null ? undefined : new ProblemError('malformed', wrong))
}

const wrongIn = (body: unknown): string | null => {
  // Its own list in place of a recursion: what is nested without end must not end the stack.
  const left: { readonly value: unknown; readonly level: number }[] = [{ value: body, level: 0 }]
  for (let one = left.pop(); one !== undefined; one = left.pop()) {
    const { value, level } = one
    if (level > mostLevels) return `The body is nested deeper than ${mostLevels} levels.`
    if (typeof value === 'number' && !Number.isFinite(value)) return 'The body holds a number that is too large to be one.'
    if (typeof value === 'string' && (value.includes('\0') || /\p{Surrogate}/u.test(value)))
      return 'The body holds text that is no text.'
    if (typeof value !== 'object' || value === null || Buffer.isBuffer(value)) continue
    for (const [key, inner] of Object.entries(value)) {
      left.push({ value: inner, level: level + 1 })
      if (!Array.isArray(value)) left.push({ value: key, level })
    }
  }
  return null
}
