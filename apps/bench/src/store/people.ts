import type { Person } from '@taraf/contract'
import { answeredAs } from './answeredAs'
import { api } from './api'

/** People who sign in. */
export const peopleApi = api.injectEndpoints({
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
  }),
})

export const { useMeQuery, useSignInMutation, useSignOutMutation } = peopleApi
