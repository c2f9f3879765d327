import {
  airframePage,
  airframeView,
  benchView,
  handsState,
  jobView,
  makeProblem,
  openedJob,
  person,
  problem as problemSchema,
  remedyResult,
  type AirframePage,
  type AirframeQuery,
  type AirframeView,
  type BenchView,
  type Change,
  type HandAct,
  type HandsState,
  type JobView,
  type Person,
  type Problem,
} from '@taraf/contract'
import { nanoid } from '@reduxjs/toolkit'
import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react'
import { z } from 'zod'

interface Call {
  url: string
  method?: 'GET' | 'POST' | 'DELETE'
  body?: unknown
}

const tries = 3

/**
 * One request. A write carries one idempotency key through all its tries, so that a lost answer never makes it happen
 * twice; what the server refuses comes back as its problem document.
 */
const call: BaseQueryFn<Call, unknown, Problem> = async ({ url, method = 'GET', body }, { signal }) => {
  const key = nanoid()
  for (let attempt = 1; ; attempt++) {
    try {
      const response = await fetch(`/api${url}`, {
        method,
        signal,
        headers: method === 'GET' ? {} : { 'content-type': 'application/json', 'idempotency-key': key },
        ...(method === 'GET' ? {} : { body: JSON.stringify(body ?? {}) }),
      })
      const data: unknown = await response.json()
      if (response.ok) return { data }
      return { error: problemSchema.parse(data) }
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
  tagTypes: ['Me', 'Airframes', 'Airframe', 'Job', 'Benches'],
  // An answer that is not as the contract says is a mistake of ours: shown, never guessed at.
  catchSchemaFailure: (failure) => ({
    ...makeProblem('fault', `The server's answer is malformed: ${failure.issues[0]?.message ?? ''}`),
  }),
  endpoints: (build) => ({
    me: build.query<Person, void>({ query: () => ({ url: '/session' }), rawResponseSchema: person, providesTags: ['Me'] }),
    signIn: build.mutation<Person, { login: string; password: string }>({
      query: (body) => ({ url: '/session', method: 'POST', body }),
      rawResponseSchema: person,
    }),
    signOut: build.mutation<null, void>({ query: () => ({ url: '/session', method: 'DELETE' }) }),

    airframes: build.query<AirframePage, Partial<AirframeQuery>>({
      query: (query) => ({
        url: `/airframes?${new URLSearchParams(
          Object.entries(query)
            .filter(([, v]) => v !== undefined && v !== '')
            .map(([k, v]) => [k, String(v)]),
        )}`,
      }),
      rawResponseSchema: airframePage,
      providesTags: ['Airframes'],
      keepUnusedDataFor: 30,
    }),
    airframe: build.query<AirframeView, string>({
      query: (tag) => ({ url: `/airframes/${encodeURIComponent(tag)}` }),
      rawResponseSchema: airframeView,
      providesTags: (_r, _e, tag) => [{ type: 'Airframe', id: tag }],
    }),
    openJob: build.mutation<{ id: string }, string>({
      query: (tag) => ({ url: `/airframes/${encodeURIComponent(tag)}/jobs`, method: 'POST' }),
      rawResponseSchema: openedJob,
      invalidatesTags: (_r, _e, tag) => [{ type: 'Airframe', id: tag }, 'Airframes'],
    }),

    benches: build.query<BenchView[], void>({
      query: () => ({ url: '/benches' }),
      rawResponseSchema: z.array(benchView),
      providesTags: ['Benches'],
    }),
    hold: build.mutation<BenchView, { bench: string; job: string }>({
      query: ({ bench, job }) => ({ url: `/benches/${bench}/hold`, method: 'POST', body: { job } }),
      rawResponseSchema: benchView,
      invalidatesTags: ['Benches', 'Job'],
    }),
    release: build.mutation<null, string>({
      query: (bench) => ({ url: `/benches/${bench}/hold`, method: 'DELETE' }),
      invalidatesTags: ['Benches', 'Job'],
    }),

    job: build.query<JobView, string>({
      query: (id) => ({ url: `/jobs/${id}` }),
      rawResponseSchema: jobView,
      providesTags: (_r, _e, id) => [{ type: 'Job', id }],
    }),
    startTake: build.mutation<null, { job: string; check: string }>({
      query: ({ job, check }) => ({ url: `/jobs/${job}/takes`, method: 'POST', body: { check } }),
    }),
    nextSegment: build.mutation<null, string>({ query: (job) => ({ url: `/jobs/${job}/takes/next`, method: 'POST' }) }),
    stopTake: build.mutation<null, string>({ query: (job) => ({ url: `/jobs/${job}/takes/running`, method: 'DELETE' }) }),
    applyRemedy: build.mutation<{ seq: number }, { job: string; seq: number; key: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/remedies`, method: 'POST', body }),
      rawResponseSchema: remedyResult,
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    recordChange: build.mutation<unknown, { job: string; change: Change; cause: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/changes`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    setAside: build.mutation<unknown, { job: string; check: string; reason: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/asides`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    sign: build.mutation<null, { job: string; role: 'technician' | 'lead'; login: string; password: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/signatures`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }, 'Benches', 'Airframes', 'Airframe'],
    }),

    hands: build.query<HandsState, string>({ query: (bench) => ({ url: `/hands/${bench}` }), rawResponseSchema: handsState }),
    actHands: build.mutation<HandsState, { bench: string; act: HandAct }>({
      query: ({ bench, act }) => ({ url: `/hands/${bench}`, method: 'POST', body: act }),
      rawResponseSchema: handsState,
      onQueryStarted: async ({ bench }, { dispatch, queryFulfilled }) => {
        const done = await queryFulfilled.catch(() => null)
        if (done !== null) dispatch(api.util.upsertQueryData('hands', bench, done.data))
      },
    }),
  }),
})

export const {
  useMeQuery,
  useSignInMutation,
  useSignOutMutation,
  useAirframesQuery,
  useAirframeQuery,
  useOpenJobMutation,
  useBenchesQuery,
  useHoldMutation,
  useReleaseMutation,
  useJobQuery,
  useStartTakeMutation,
  useNextSegmentMutation,
  useStopTakeMutation,
  useApplyRemedyMutation,
  useRecordChangeMutation,
  useSetAsideMutation,
  useSignMutation,
  useHandsQuery,
  useActHandsMutation,
} = api

/** The problem of a failed call, whatever form the library gives it. */
export const problemOf = (error: unknown): Problem | null => {
  if (error === undefined || error === null) return null
  const parsed = problemSchema.safeParse(error)
  if (parsed.success) return parsed.data
  const message = typeof error === 'object' && 'message' in error ? String(error.message) : 'unknown'
  return makeProblem('fault', message)
}
