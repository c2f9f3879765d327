import type { SheetRow, SheetView } from '@taraf/contract'
import { answeredAs } from './answeredAs'
import { api } from './api'

/** Build sheets. */
export const sheetsApi = api.injectEndpoints({
  endpoints: (build) => ({
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
  }),
})

export const { useSheetsQuery, useSheetQuery, useMakeSheetMutation } = sheetsApi
