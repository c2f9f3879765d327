import express, { type Request, type RequestHandler } from 'express'
import pLimit, { type LimitFunction } from 'p-limit'
import { personOf } from './guard'
import { ProblemError } from '@taraf/contract'

const atOnce = 2
const mostWaiting = 12
const limits = new Map<string, LimitFunction>()

/**
 * Reads the file that comes as the body. Of one person's files two are read and worked at together and the next ones wait unread, so that
 * whoever sends many at once fills no memory and holds nobody up but themselves.
 */
export const fileBody = (limit: string | number): [RequestHandler, RequestHandler] => [
  inTurn,
  express.raw({ type: 'application/octet-stream', limit }),
]

const inTurn: RequestHandler = (request, response, next) => {
  const { id } = personOf(request)
  const mine = limits.get(id) ?? pLimit(atOnce)
  limits.set(id, mine)
  if (mine.pendingCount >= mostWaiting) throw new ProblemError('busy', 'Too many of your files are being worked at already.', 5)
  void mine(async () => {
    if (response.destroyed) return
    const answered = new Promise((resolve) => response.once('close', resolve))
    next()
    await answered
  })
}

/** The bytes of a file that came as the body. */
export const bytesOf = (request: Request): Buffer => {
  const body: unknown = request.body
  if (!Buffer.isBuffer(body) || body.length === 0) throw new ProblemError('file-wrong', 'The file is empty.')
  return body
}
