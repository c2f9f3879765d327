import type { Problem } from '@taraf/contract'
import { makeProblem } from '@taraf/contract/problemTypes'
import { nanoid } from '@reduxjs/toolkit'
import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react'

interface Call {
  url: string
  method?: 'GET' | 'POST' | 'DELETE'
  body?: unknown
  /** Sent as it is, instead of a body. */
  file?: Blob
}

const tries = 3

/**
 * One request. A write carries one idempotency key through all its tries, so that a lost answer never makes it happen
 * twice; what the server refuses comes back as its problem document.
 */
const call: BaseQueryFn<Call, unknown, Problem> = async ({ url, method = 'GET', body, file }, { signal }) => {
  const key = nanoid()
  for (let attempt = 1; ; attempt++) {
    try {
      const response = await fetch(`/api${url}`, {
        method,
        signal,
        headers:
          method === 'GET'
            ? {}
            : { 'content-type': file === undefined ? 'application/json' : 'application/octet-stream', 'idempotency-key': key },
        ...(method === 'GET' ? {} : { body: file ?? JSON.stringify(body ?? {}) }),
      })
      const data: unknown = await response.json()
      if (response.ok) return { data }
      return { error: isProblem(data) ? data : makeProblem('fault', `The server answered ${response.status}.`) }
    } catch (error) {
      if (signal.aborted || attempt === tries) return { error: unreachable(error) }
      await new Promise((resolve) => setTimeout(resolve, 300 * attempt))
    }
  }
}

const unreachable = (error: unknown): Problem => ({
  ...makeProblem('link-lost', error instanceof Error ? error.message : String(error)),
  type: '/problems/no-server',
  title: 'The server is not reached',
  todo: 'Nothing is lost. Check the network; it goes on as soon as the server answers.',
})

export const api = createApi({
  baseQuery: call,
  tagTypes: ['Me', 'Today', 'Airframes', 'Airframe', 'Job', 'Benches', 'Sheets', 'Images', 'BatchNotes', 'Settings'],
  // An answer that is not as the contract says is a mistake of ours: shown, never guessed at.
  catchSchemaFailure: (failure) => ({
    ...makeProblem('fault', `The server's answer is malformed: ${failure.issues[0]?.message ?? ''}`),
  }),
  // Each part of the application adds its own: people, airframes, benches, jobs, sheets, boards.
  endpoints: () => ({}),
})

/** The problem of a failed call, whatever form the library gives it. */
export const problemOf = (error: unknown): Problem | null => {
  if (error === undefined || error === null) return null
  if (isProblem(error)) return error
  const message = typeof error === 'object' && 'message' in error ? String(error.message) : 'unknown'
  return makeProblem('fault', message)
}

/** Told by hand, so that the sign-in need not wait for all schemas. */
const isProblem = (error: unknown): error is Problem =>
  typeof error === 'object' &&
  error !== null &&
  ['type', 'title', 'detail', 'todo'].every((key) => typeof (error as Record<string, unknown>)[key] === 'string')
