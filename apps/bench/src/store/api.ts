import type {
  AirframePage,
  AirframeQuery,
  AirframeView,
  BatchNote,
  BatchNoteRequest,
  BenchView,
  BuiltPart,
  Change,
  EarlierTakes,
  Evidence,
  HandAct,
  HandsState,
  ImageView,
  ImportPreview,
  JobView,
  NewAirframe,
  Observation,
  Offset,
  Person,
  Problem,
  Settings,
  SettingsView,
  SheetRow,
  SheetView,
  Side,
} from '@taraf/contract'
import { makeProblem } from '@taraf/contract/problemTypes'
import { nanoid } from '@reduxjs/toolkit'
import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react'
import { answeredAs } from './answeredAs'

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
  tagTypes: ['Me', 'Airframes', 'Airframe', 'Job', 'Benches', 'Sheets', 'Images', 'BatchNotes', 'Settings'],
  // An answer that is not as the contract says is a mistake of ours: shown, never guessed at.
  catchSchemaFailure: (failure) => ({
    ...makeProblem('fault', `The server's answer is malformed: ${failure.issues[0]?.message ?? ''}`),
  }),
  endpoints: (build) => ({
    me: build.query<Person, void>({
      query: () => ({ url: '/session' }),
      rawResponseSchema: answeredAs('person'),
      providesTags: ['Me'],
    }),
    signIn: build.mutation<Person, { login: string; password: string }>({
      query: (body) => ({ url: '/session', method: 'POST', body }),
      rawResponseSchema: answeredAs('person'),
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
      rawResponseSchema: answeredAs('airframePage'),
      providesTags: ['Airframes'],
      keepUnusedDataFor: 30,
    }),
    airframe: build.query<AirframeView, string>({
      query: (tag) => ({ url: `/airframes/${encodeURIComponent(tag)}` }),
      rawResponseSchema: answeredAs('airframeView'),
      providesTags: (_r, _e, tag) => [{ type: 'Airframe', id: tag }],
    }),
    openJob: build.mutation<{ id: string }, string>({
      query: (tag) => ({ url: `/airframes/${encodeURIComponent(tag)}/jobs`, method: 'POST' }),
      rawResponseSchema: answeredAs('openedJob'),
      invalidatesTags: (_r, _e, tag) => [{ type: 'Airframe', id: tag }, 'Airframes'],
    }),

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

    job: build.query<JobView, string>({
      query: (id) => ({ url: `/jobs/${id}` }),
      rawResponseSchema: answeredAs('jobView'),
      providesTags: (_r, _e, id) => [{ type: 'Job', id }],
    }),
    evidence: build.query<Evidence, { job: string; seq: number; stream: 'mag' | 'meter' }>({
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
    nextSegment: build.mutation<null, { job: string; up?: Side; antenna?: Offset }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/takes/next`, method: 'POST', body }),
    }),
    stopTake: build.mutation<null, string>({ query: (job) => ({ url: `/jobs/${job}/takes/running`, method: 'DELETE' }) }),
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
    stopAll: build.mutation<null, string>({ query: (bench) => ({ url: `/benches/${bench}/stop`, method: 'POST' }) }),
    setAside: build.mutation<unknown, { job: string; check: string; reason: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/asides`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    sign: build.mutation<null, { job: string; role: 'technician' | 'lead'; login: string; password: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/signatures`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }, 'Benches', 'Airframes', 'Airframe'],
    }),

    takeList: build.mutation<{ seq: number }, { job: string; check: string; observations: Observation[] }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/takes`, method: 'POST', body }),
      rawResponseSchema: answeredAs('remedyResult'),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }],
    }),
    keepPhoto: build.mutation<{ sha256: string }, { job: string; file: Blob }>({
      query: ({ job, file }) => ({ url: `/jobs/${job}/photos`, method: 'POST', file }),
      rawResponseSchema: answeredAs('keptPhoto'),
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

    sheets: build.query<SheetRow[], void>({
      query: () => ({ url: '/sheets' }),
      rawResponseSchema: answeredAs('sheetRows'),
      providesTags: ['Sheets'],
    }),
    sheet: build.query<SheetView, { type: string; version: number }>({
      query: ({ type, version }) => ({ url: `/sheets/${encodeURIComponent(type)}/${version}` }),
      rawResponseSchema: answeredAs('sheetView'),
      providesTags: ['Sheets'],
    }),
    makeSheet: build.mutation<{ type: string; version: number }, unknown>({
      query: (body) => ({ url: '/sheets', method: 'POST', body }),
      rawResponseSchema: answeredAs('madeSheet'),
      invalidatesTags: ['Sheets'],
    }),
    giveSheet: build.mutation<null, { tag: string; type: string; version: number }>({
      query: ({ tag, ...body }) => ({ url: `/airframes/${encodeURIComponent(tag)}/sheet`, method: 'POST', body }),
      invalidatesTags: ['Airframe', 'Airframes', 'Sheets'],
    }),
    register: build.mutation<{ tags: string[] }, { airframes: NewAirframe[] }>({
      query: (body) => ({ url: '/airframes', method: 'POST', body }),
      rawResponseSchema: answeredAs('registered'),
      invalidatesTags: ['Airframes', 'Sheets'],
    }),
    previewAirframes: build.mutation<ImportPreview, Blob>({
      query: (file) => ({ url: '/airframes/preview', method: 'POST', file }),
      rawResponseSchema: answeredAs('importPreview'),
    }),
    importAirframes: build.mutation<{ tags: string[] }, Blob>({
      query: (file) => ({ url: '/airframes/import', method: 'POST', file }),
      rawResponseSchema: answeredAs('registered'),
      invalidatesTags: ['Airframes', 'Sheets'],
    }),
    changeParts: build.mutation<null, { tag: string; parts: BuiltPart[]; cause: string }>({
      query: ({ tag, ...body }) => ({ url: `/airframes/${encodeURIComponent(tag)}/parts`, method: 'POST', body }),
      invalidatesTags: ['Airframe', 'Job', 'BatchNotes'],
    }),
    batchNotes: build.query<BatchNote[], void>({
      query: () => ({ url: '/batch-notes' }),
      rawResponseSchema: answeredAs('batchNotes'),
      providesTags: ['BatchNotes'],
    }),
    writeNote: build.mutation<BatchNote, BatchNoteRequest>({
      query: (body) => ({ url: '/batch-notes', method: 'POST', body }),
      rawResponseSchema: answeredAs('batchNote'),
      invalidatesTags: ['BatchNotes', 'Job'],
    }),

    images: build.query<ImageView[], void>({
      query: () => ({ url: '/images' }),
      rawResponseSchema: answeredAs('imageViews'),
      providesTags: ['Images'],
    }),
    keepImage: build.mutation<ImageView, File>({
      query: (file) => ({ url: `/images?file=${encodeURIComponent(file.name)}`, method: 'POST', file }),
      rawResponseSchema: answeredAs('imageView'),
      invalidatesTags: ['Images'],
    }),
    writeImage: build.mutation<null, { job: string; sha256: string; reason: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/image`, method: 'POST', body }),
    }),

    settings: build.query<SettingsView, string>({
      query: (job) => ({ url: `/jobs/${job}/settings` }),
      rawResponseSchema: answeredAs('settingsView'),
      providesTags: (_r, _e, job) => ['Settings', { type: 'Job', id: job }],
    }),
    settingsOfTake: build.query<Settings, { job: string; seq: number }>({
      query: ({ job, seq }) => ({ url: `/jobs/${job}/takes/${seq}/settings` }),
      rawResponseSchema: answeredAs('settings'),
    }),
    readSettings: build.mutation<{ firmware: string | null; values: Settings }, { job: string; file: Blob }>({
      query: ({ job, file }) => ({ url: `/jobs/${job}/settings/read`, method: 'POST', file }),
      rawResponseSchema: answeredAs('readFile'),
    }),
    writeSettings: build.mutation<{ seq: number | null }, { job: string; values: Settings; cause: string }>({
      query: ({ job, ...body }) => ({ url: `/jobs/${job}/settings`, method: 'POST', body }),
      rawResponseSchema: answeredAs('written'),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }, 'Settings'],
    }),
    clearSettings: build.mutation<{ seq: number | null }, { job: string; cause: string }>({
      query: ({ job, cause }) => ({ url: `/jobs/${job}/settings/clear`, method: 'POST', body: { cause } }),
      rawResponseSchema: answeredAs('written'),
      invalidatesTags: (_r, _e, { job }) => [{ type: 'Job', id: job }, 'Settings'],
    }),

    hands: build.query<HandsState, string>({
      query: (bench) => ({ url: `/hands/${bench}` }),
      rawResponseSchema: answeredAs('handsState'),
    }),
    actHands: build.mutation<HandsState, { bench: string; act: HandAct }>({
      query: ({ bench, act }) => ({ url: `/hands/${bench}`, method: 'POST', body: act }),
      rawResponseSchema: answeredAs('handsState'),
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
  useEvidenceQuery,
  useEarlierQuery,
  useStartTakeMutation,
  useNextSegmentMutation,
  useStopTakeMutation,
  useApplyRemedyMutation,
  useRecordChangeMutation,
  useConfirmMutation,
  useStopAllMutation,
  useSetAsideMutation,
  useSignMutation,
  useTakeListMutation,
  useKeepPhotoMutation,
  useAddItemMutation,
  useCloseItemMutation,
  useParkMutation,
  useResumeMutation,
  useSheetsQuery,
  useSheetQuery,
  useMakeSheetMutation,
  useGiveSheetMutation,
  useRegisterMutation,
  usePreviewAirframesMutation,
  useImportAirframesMutation,
  useChangePartsMutation,
  useBatchNotesQuery,
  useWriteNoteMutation,
  useImagesQuery,
  useKeepImageMutation,
  useWriteImageMutation,
  useSettingsQuery,
  useLazySettingsOfTakeQuery,
  useReadSettingsMutation,
  useWriteSettingsMutation,
  useClearSettingsMutation,
  useHandsQuery,
  useActHandsMutation,
} = api

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
