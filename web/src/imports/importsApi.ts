import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'

/** Files that are brought. */
const importsApi = api.injectEndpoints({
  endpoints: (build) => ({
    // What a file brings is seen when it is done, so nothing is asked for again piece by piece.
    importFile: build.mutation<ResponseOf<typeof routes.importFile>, Changing<typeof routes.importFile>>({
      query: ({ body, ...params }) => request(routes.importFile, params, body),
    }),
  }),
})

export const { useImportFileMutation } = importsApi
