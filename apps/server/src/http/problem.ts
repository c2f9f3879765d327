import { makeProblem } from '@taraf/contract'
import type { ErrorRequestHandler, RequestHandler } from 'express'
import type { Logger } from 'pino'
import { ZodError } from 'zod'
import { firstIssue } from '@taraf/contract/firstIssue'
import { isDatabaseAway } from '../database/database'
import { ProblemError } from '@taraf/contract'

/** Whatever went wrong, as the problem that the caller is told. */
export const problemFrom = (error: unknown): ProblemError => {
  if (error instanceof ProblemError) return error
  if (error instanceof ZodError) return new ProblemError('malformed', firstIssue(error))
  if (isDatabaseAway(error)) return new ProblemError('database-away', 'The database did not answer.')
  if (typeof error === 'object' && error !== null && 'type' in error) {
    if (error.type === 'entity.parse.failed') return new ProblemError('malformed', 'The body is not JSON.')
    if (error.type === 'entity.too.large')
      return new ProblemError(
        'too-large',
        `It is larger than ${'limit' in error ? Math.round(Number(error.limit) / 1000) : 100} kB; nothing of it was read.`,
      )
  }
  if (statusOf(error) === 404) return new ProblemError('not-found', 'There is no such file.')
  if (isOfClient(error))
    return new ProblemError('malformed', 'The request cannot be read: its encoding, its charset or its address is none.')
  if (isUnfit(error))
    return new ProblemError(
      'malformed',
      'The request holds a value that cannot be kept: a number that is too large, or text that is none.',
    )
  if (error instanceof URIError) return new ProblemError('malformed', 'The address is not well formed.')
  return new ProblemError('fault', 'Something unexpected happened; it is in the log.')
}

/** What a parser of the request says is the request's own fault. */
const isOfClient = (error: unknown): boolean => statusOf(error) >= 400 && statusOf(error) < 500

const statusOf = (error: unknown): number =>
  typeof error === 'object' && error !== null && 'statusCode' in error ? Number(error.statusCode) : 0

/** What PostgreSQL calls an exception of the data (class 22 of its error codes, appendix A of its manual). */
const isUnfit = (error: unknown): boolean => {
  const original: unknown = typeof error === 'object' && error !== null && 'original' in error ? error.original : error
  return typeof original === 'object' && original !== null && 'code' in original && /^22\w{3}$/.test(String(original.code))
}

export const problemHandler =
  (log: Logger): ErrorRequestHandler =>
  (error: unknown, request, response, _next) => {
    const problem = problemFrom(error)
    if (problem.type === 'fault') log.error({ err: error, url: request.originalUrl }, 'fault')
    else if (problem.type === 'database-away') log.warn({ err: error, url: request.originalUrl }, 'the database did not answer')
    // Most likely the request's own; a query of ours that is wrong would look the same.
    else if (isUnfit(error)) log.warn({ err: error, url: request.originalUrl }, 'a value that cannot be kept')
    // Its answer is on its way already, and whoever asked cannot be told: a half answer is cut off.
    if (response.headersSent) return void (response.writableEnded || response.destroy())
    const document = makeProblem(problem.type, problem.detail, request.originalUrl)
    if (problem.retryAfterS !== undefined) response.setHeader('retry-after', String(problem.retryAfterS))
    response.status(document.status).type('application/problem+json').send(JSON.stringify(document))
  }

export const noSuchRoute: RequestHandler = (request) => {
  throw new ProblemError('not-found', `There is nothing at ${request.path}.`)
}
