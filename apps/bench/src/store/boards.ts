import type { ImageView, Settings, SettingsView } from '@taraf/contract'
import { answeredAs } from './answeredAs'
import { api } from './api'

/** A board's settings and firmware. */
export const boardsApi = api.injectEndpoints({
  endpoints: (build) => ({
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
  }),
})

export const {
  useSettingsQuery,
  useLazySettingsOfTakeQuery,
  useReadSettingsMutation,
  useWriteSettingsMutation,
  useClearSettingsMutation,
  useImagesQuery,
  useKeepImageMutation,
  useWriteImageMutation,
} = boardsApi
