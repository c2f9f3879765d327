import { personChange, signIn } from '@taraf/contract'
import { Router } from 'express'
import { z } from 'zod'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import type { People } from './people'

/** Signing in and out. */
export const sessionRoutes = (people: People, signedOut: (sessionId: string) => void): Router => {
  const router = Router()
  router.get('/', (request, response) => void response.json(personOf(request)))
  router.post('/', async (request, response) => {
    const { login, password } = signIn.parse(request.body)
    const person = await people.verify(login, password, { address: request.ip ?? '', signedIn: request.session.person })
    // A new id, so that one planted before the sign-in is worth nothing after it.
    await new Promise<void>((resolve, reject) => request.session.regenerate((error) => (error ? reject(error) : resolve())))
    request.session.person = person
    response.json(person)
  })
  router.delete('/', async (request, response) => {
    const { sessionID } = request
    await new Promise<void>((resolve, reject) => request.session.destroy((error) => (error ? reject(error) : resolve())))
    signedOut(sessionID)
    response.clearCookie('taraf').json(null)
  })
  return router
}

/** `/api/people`: what somebody may do from now on. */
export const peopleRoutes = (once: Once, people: People): Router => {
  const router = Router()
  router.post(
    '/:person',
    allow('lead'),
    once(async (request) => {
      await people.change(
        z.uuid('is no person').parse(request.params.person),
        personChange.parse(request.body),
        personOf(request),
      )
      return { body: null }
    }),
  )
  return router
}
