import type { BenchView, HandAct, HandsState } from '@taraf/contract'
import { answeredAs } from './answeredAs'
import { api } from './api'

/** Benches: held and let go of, and the hands of the simulated ones. */
export const benchesApi = api.injectEndpoints({
  endpoints: (build) => ({
    benches: build.query<BenchView[], void>({
      query: () => ({ url: '/benches' }),
      rawResponseSchema: answeredAs('benches'),
      providesTags: ['Benches'],
    }),
    hold: build.mutation<BenchView, { bench: string; job: string }>({
      query: ({ bench, job }) => ({ url: `/benches/${bench}/hold`, method: 'POST', body: { job } }),
      rawResponseSchema: answeredAs('benchView'),
      invalidatesTags: ['Benches', 'Job'],
    }),
    release: build.mutation<null, string>({
      query: (bench) => ({ url: `/benches/${bench}/hold`, method: 'DELETE' }),
      invalidatesTags: ['Benches', 'Job'],
    }),
    stopAll: build.mutation<null, string>({ query: (bench) => ({ url: `/benches/${bench}/stop`, method: 'POST' }) }),
    hands: build.query<HandsState, string>({
      query: (bench) => ({ url: `/hands/${bench}` }),
      rawResponseSchema: answeredAs('handsState'),
    }),
    actHands: build.mutation<HandsState, { bench: string; act: HandAct }>({
      query: ({ bench, act }) => ({ url: `/hands/${bench}`, method: 'POST', body: act }),
      rawResponseSchema: answeredAs('handsState'),
      onQueryStarted: async ({ bench }, { dispatch, queryFulfilled }) => {
        const done = await queryFulfilled.catch(() => null)
        if (done !== null) dispatch(benchesApi.util.upsertQueryData('hands', bench, done.data))
      },
    }),
  }),
})

export const { useBenchesQuery, useHoldMutation, useReleaseMutation, useStopAllMutation, useHandsQuery, useActHandsMutation } =
  benchesApi
