import type { Change, EarlierTakes, Evidence, JobView, Observation, Said, TodayView } from '@taraf/contract'
import { answeredAs } from './answeredAs'
import { api } from './api'

/** A job card: its takes, what is entered on it, its open items and signatures. */
export const jobsApi = api.injectEndpoints({
  endpoints: (build) => ({
    today: build.query<TodayView, void>({
      query: () => ({ url: '/today' }),
      rawResponseSchema: answeredAs('todayView'),
      providesTags: ['Today'],
    }),
    job: build.query<JobView, string>({
      query: (id) => ({ url: `/jobs/${id}` }),
      rawResponseSchema: answeredAs('jobView'),
      providesTags: (_r, _e, id) => [{ type: 'Job', id }],
    }),
    evidence: build.query<Evidence, { job: string; seq: number; stream: 'mag' | 'meter' | 'outputs' }>({
      query: ({ job, seq, stream }) => ({ url: `/jobs/${job}/takes/${seq}/evidence?stream=${stream}` }),
      rawResponseSchema: answeredAs('evidence'),
      keepUnusedDataFor: 300,
    }),
    earlier: build.query<EarlierTakes, { job: string; check: string }>({
      query: ({ job, check }) => ({ url: `/jobs/${job}/checks/${check}/earlier` }),
      rawResponseSchema: answeredAs('earlierTakes'),
      keepUnusedDataFor: 300,
    }),
    startTake: build.mutation<null, { job: string; check: string }>({
      query: ({ job, check }) => ({ url: `/jobs/${job}/takes`, method: 'POST', body: { check } }),
    }),
    nextSegment: build.mutation<null, { job: string; observations?: Observation[] } & Said>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/takes/next`, method: 'POST', body }),
    }),
    stopTake: build.mutation<null, string>({ query: (job) => ({ url: `/jobs/${job}/takes/running`, method: 'DELETE' }) }),
    takeList: build.mutation<{ seq: number }, { job: string; check: string; observations: Observation[]; began?: number }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/takes`, method: 'POST', body }),
      rawResponseSchema: answeredAs('remedyResult'),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    keepPhoto: build.mutation<{ sha256: string }, { job: string; file: Blob }>({
      query: ({ job, file }) => ({ url: `/jobs/${job}/photos`, method: 'POST', file }),
      rawResponseSchema: answeredAs('keptPhoto'),
    }),
    applyRemedy: build.mutation<{ seq: number }, { job: string; seq: number; key: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/remedies`, method: 'POST', body }),
      rawResponseSchema: answeredAs('remedyResult'),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    recordChange: build.mutation<unknown, { job: string; change: Change; cause: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/changes`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    confirm: build.mutation<unknown, { job: string; what: 'props off' }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/confirmations`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    fitBoard: build.mutation<unknown, { job: string; board: string; cause: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/board`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }, 'Airframes', 'Airframe'],
    }),
    setAside: build.mutation<unknown, { job: string; check: string; reason: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/asides`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    addItem: build.mutation<unknown, { job: string; words: string; blocks: boolean }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/items`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    closeItem: build.mutation<unknown, { job: string; item: number; words: string }>({
      query: ({ job, item, words }) => ({ url: `/jobs/${job}/items/${item}/close`, method: 'POST', body: { words } }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    park: build.mutation<unknown, { job: string; reason: string }>({
      query: ({ job, reason }) => ({ url: `/jobs/${job}/park`, method: 'POST', body: { reason } }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }, 'Benches'],
    }),
    resume: build.mutation<unknown, string>({
      query: (job) => ({ url: `/jobs/${job}/resume`, method: 'POST' }),
      invalidatesTags: (_r, _e, job) => [{ type: 'Job', id: job }],
    }),
    sign: build.mutation<null, { job: string; role: 'technician' | 'lead'; login: string; password: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/signatures`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }, 'Benches', 'Airframes', 'Airframe'],
    }),
  }),
})

export const {
  useTodayQuery,
  useJobQuery,
  useEvidenceQuery,
  useEarlierQuery,
  useStartTakeMutation,
  useNextSegmentMutation,
  useStopTakeMutation,
  useTakeListMutation,
  useKeepPhotoMutation,
  useApplyRemedyMutation,
  useRecordChangeMutation,
  useConfirmMutation,
  useFitBoardMutation,
  useSetAsideMutation,
  useAddItemMutation,
  useCloseItemMutation,
  useParkMutation,
  useResumeMutation,
  useSignMutation,
} = jobsApi
