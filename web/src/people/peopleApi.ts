import { type BodyOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** Who is here, and how they came in. */
export const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    session: build.query<ResponseOf<typeof routes.getSession>, void>({
      query: () => request(routes.getSession),
      providesTags: ['Session'],
    }),
    createOwner: build.mutation<ResponseOf<typeof routes.createOwner>, BodyOf<typeof routes.createOwner>>({
      query: (body) => request(routes.createOwner, {}, body),
      invalidatesTags: ['Session'],
    }),
    signIn: build.mutation<ResponseOf<typeof routes.signIn>, BodyOf<typeof routes.signIn>>({
      query: (body) => request(routes.signIn, {}, body),
      invalidatesTags: ['Session'],
    }),
    signInByLink: build.mutation<ResponseOf<typeof routes.signInByLink>, BodyOf<typeof routes.signInByLink>>({
      query: (body) => request(routes.signInByLink, {}, body),
      invalidatesTags: ['Session'],
    }),
    signOut: build.mutation<void, void>({
      query: () => request(routes.signOut),
      invalidatesTags: ['Session'],
    }),
  }),
})

export const {
  useSessionQuery,
  useCreateOwnerMutation,
  useSignInMutation,
  useSignInByLinkMutation,
  useSignOutMutation,
} = peopleApi
