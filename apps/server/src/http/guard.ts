import type { IncomingMessage } from 'node:http'
import type { Person, Role } from '@taraf/contract'
import type { Request, RequestHandler } from 'express'
import type {} from 'express-session'
import { ProblemError } from '@taraf/contract'

declare module 'express-session' {
  interface SessionData {
    person: Person
  }
}

/** Who is signed in. Throws a problem where nobody is. */
export const personOf = (request: Pick<Request, 'session'>): Person => {
  const { person } = request.session
  if (person === undefined) throw new ProblemError('sign-in-needed', 'Nobody is signed in, or the sign-in has expired.')
  return person
}

/** Looks again, at every request, who the signed-in person is now: a role that was changed counts at once, and so does a withdrawal. */
export const presentPerson =
  (people: { find(id: string): Promise<Person | null> }): RequestHandler =>
  async (request, _response, next) => {
    const { person } = request.session
    if (person !== undefined) {
      const now = await people.find(person.id)
      if (now === null) delete request.session.person
      else request.session.person = now
    }
    next()
  }

/** Lets only people of these roles through. */
export const allow =
  (...roles: Role[]): RequestHandler =>
  (request, _response, next) => {
    const { role } = personOf(request)
    if (!roles.includes(role))
      throw new ProblemError('not-allowed', `A ${role} cannot do this; it takes a ${roles.join(' or ')}.`)
    next()
  }

/** Whether a browser says that another site made this request (Fetch Metadata, and the Origin header of RFC 6454). */
export const isCrossSite = ({ headers }: Pick<IncomingMessage, 'headers'>): boolean => {
  const site = headers['sec-fetch-site']
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return true
  const { origin, host } = headers
  if (origin === undefined) return false
  try {
    return new URL(origin).host !== host
  } catch {
    return true
  }
}

/** Refuses what changes something when it comes from another site, or in a form that a page could send without asking. */
export const sameOrigin: RequestHandler = (request, _response, next) => {
  if (['GET', 'HEAD', 'OPTIONS'].includes(request.method)) return next()
  if (isCrossSite(request)) throw new ProblemError('cross-site', 'The browser says that another site sent this.')
  // Neither can a page of another site send without the browser asking first.
  if (!request.is(['application/json', 'application/octet-stream']))
    throw new ProblemError('malformed', 'The body must be JSON, or the bytes of a file.')
  next()
}
