import type {
  AirframePage,
  AirframeQuery,
  AirframeView,
  BatchNote,
  BatchNoteRequest,
  BuiltPart,
  ImportPreview,
  NewAirframe,
} from '@taraf/contract'
import { answeredAs } from './answeredAs'
import { api } from './api'

/** Airframes: found, registered, what they are built from, and the notes of their batches. */
export const airframesApi = api.injectEndpoints({
  endpoints: (build) => ({
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
    giveSheet: build.mutation<null, { tag: string; type: string; version: number }>({
      query: ({ tag, ...body }) => ({ url: `/airframes/${encodeURIComponent(tag)}/sheet`, method: 'POST', body }),
      invalidatesTags: ['Airframe', 'Airframes', 'Sheets'],
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
  }),
})

export const {
  useAirframesQuery,
  useAirframeQuery,
  useOpenJobMutation,
  useRegisterMutation,
  usePreviewAirframesMutation,
  useImportAirframesMutation,
  useChangePartsMutation,
  useGiveSheetMutation,
  useBatchNotesQuery,
  useWriteNoteMutation,
} = airframesApi
