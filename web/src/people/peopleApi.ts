import { type BodyOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'

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
    changePreferences: build.mutation<void, BodyOf<typeof routes.changePreferences>>({
      query: (body) => request(routes.changePreferences, {}, body),
      invalidatesTags: ['Session', 'People', 'Devices'],
    }),
    changePassword: build.mutation<void, BodyOf<typeof routes.changePassword>>({
      query: (body) => request(routes.changePassword, {}, body),
      invalidatesTags: ['Session', 'OwnSessions'],
    }),
    ownSessions: build.query<ResponseOf<typeof routes.listSessions>, void>({
      query: () => request(routes.listSessions),
      providesTags: ['OwnSessions'],
    }),
    endSession: build.mutation<void, number>({
      query: (sessionId) => request(routes.endSession, { sessionId }),
      invalidatesTags: ['OwnSessions'],
    }),
    leave: build.mutation<void, void>({
      query: () => request(routes.leave),
      invalidatesTags: ['Session'],
    }),
    leaveSite: build.mutation<void, number>({
      query: (siteId) => request(routes.leaveSite, { siteId }),
      invalidatesTags: ['Session', 'Sites', 'Devices'],
    }),
    ownSignInLink: build.mutation<ResponseOf<typeof routes.createSignInLink>, void>({
      query: () => request(routes.createSignInLink),
    }),
    people: build.query<ResponseOf<typeof routes.listPeople>, void>({
      query: () => request(routes.listPeople),
      providesTags: ['People'],
    }),
    changeAccess: build.mutation<void, Changing<typeof routes.changeAccess>>({
      query: ({ body, ...params }) => request(routes.changeAccess, params, body),
      invalidatesTags: ['People', 'Session'],
    }),
    removePerson: build.mutation<void, number>({
      query: (personId) => request(routes.removePerson, { personId }),
      invalidatesTags: ['People'],
    }),
    signInLinkFor: build.mutation<ResponseOf<typeof routes.createSignInLinkFor>, number>({
      query: (personId) => request(routes.createSignInLinkFor, { personId }),
    }),
    invitations: build.query<ResponseOf<typeof routes.listInvitations>, void>({
      query: () => request(routes.listInvitations),
      providesTags: ['Invitations'],
    }),
    invite: build.mutation<
      ResponseOf<typeof routes.createInvitation>,
      BodyOf<typeof routes.createInvitation>
    >({
      query: (body) => request(routes.createInvitation, {}, body),
      invalidatesTags: ['Invitations'],
    }),
    withdrawInvitation: build.mutation<void, number>({
      query: (invitationId) => request(routes.withdrawInvitation, { invitationId }),
      invalidatesTags: ['Invitations'],
    }),
    readInvitation: build.query<ResponseOf<typeof routes.readInvitation>, string>({
      query: (token) => request(routes.readInvitation, {}, { token }),
      keepUnusedDataFor: 0,
    }),
    acceptInvitation: build.mutation<
      ResponseOf<typeof routes.acceptInvitation>,
      BodyOf<typeof routes.acceptInvitation>
    >({
      query: (body) => request(routes.acceptInvitation, {}, body),
      invalidatesTags: ['Session', 'Sites', 'Devices'],
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
  useChangePreferencesMutation,
  useChangePasswordMutation,
  useOwnSessionsQuery,
  useEndSessionMutation,
  useLeaveMutation,
  useLeaveSiteMutation,
  useOwnSignInLinkMutation,
  usePeopleQuery,
  useChangeAccessMutation,
  useRemovePersonMutation,
  useSignInLinkForMutation,
  useInvitationsQuery,
  useInviteMutation,
  useWithdrawInvitationMutation,
  useReadInvitationQuery,
  useAcceptInvitationMutation,
  useSignOutMutation,
} = peopleApi
