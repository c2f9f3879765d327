import type { JobView, TransmitterCard } from '@taraf/contract'
import { flownWith } from '@taraf/core'
import { answeredAs } from './answeredAs'
import { api } from './api'

export const transmittersApi = api.injectEndpoints({
  endpoints: (build) => ({
    transmitters: build.query<TransmitterCard[], void>({
      query: () => ({ url: '/transmitters' }),
      rawResponseSchema: answeredAs('transmitterCards'),
      providesTags: ['Job'],
    }),
  }),
})
export const { useTransmittersQuery } = transmittersApi

/**
 * The card of the transmitter that an airframe is flown with: the one that its own record names, else the one that was used last for another
 * of its type. `own` says which.
 */
export const useTransmitterOf = (job: JobView): { readonly card: TransmitterCard; readonly own: boolean } | null => {
  const { data = [] } = useTransmittersQuery()
  const named = job.entries.map(({ body }) => flownWith(body)).findLast((found) => found !== null)
  const own =
    named == null
      ? undefined
      : data.find((c) => c.transmitter.toLowerCase() === named.transmitter.trim().toLowerCase() && c.model === named.model)
  if (own !== undefined) return { card: own, own: true }
  const alike = data.find(({ types }) => types.includes(job.sheet.type))
  return alike === undefined ? null : { card: alike, own: false }
}
