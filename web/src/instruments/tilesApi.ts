import { type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, request } from '../api/api.ts'

const tilesApi = api.injectEndpoints({
  endpoints: (build) => ({
    /** Whose map may lie under places. */
    tiles: build.query<ResponseOf<typeof routes.getMapTiles>, void>({
      query: () => request(routes.getMapTiles),
      keepUnusedDataFor: 3600,
    }),
  }),
})

export const { useTilesQuery } = tilesApi
