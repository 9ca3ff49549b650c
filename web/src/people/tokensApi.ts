import { type BodyOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

/** Keys for programs. */
const tokensApi = api.injectEndpoints({
  endpoints: (build) => ({
    tokens: build.query<ResponseOf<typeof routes.listTokens>, void>({
      query: () => request(routes.listTokens),
      providesTags: ['Tokens'],
    }),
    createToken: build.mutation<ResponseOf<typeof routes.createToken>, BodyOf<typeof routes.createToken>>({
      query: (body) => request(routes.createToken, {}, body),
      invalidatesTags: ['Tokens'],
    }),
    withdrawToken: build.mutation<void, number>({
      query: (tokenId) => request(routes.withdrawToken, { tokenId }),
      invalidatesTags: ['Tokens'],
    }),
  }),
})

export const { useTokensQuery, useCreateTokenMutation, useWithdrawTokenMutation } = tokensApi
