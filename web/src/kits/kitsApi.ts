import { type BodyOf, type ResponseOf, routes } from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'

/** Kinds of devices. */
const kitsApi = api.injectEndpoints({
  endpoints: (build) => ({
    kits: build.query<ResponseOf<typeof routes.listKits>, void>({
      query: () => request(routes.listKits),
      providesTags: ['Kits'],
    }),
    kit: build.query<ResponseOf<typeof routes.getKit>, number>({
      query: (kitId) => request(routes.getKit, { kitId }),
      providesTags: ['Kits'],
    }),
    createKit: build.mutation<ResponseOf<typeof routes.createKit>, BodyOf<typeof routes.createKit>>({
      query: (body) => request(routes.createKit, {}, body),
      invalidatesTags: ['Kits'],
    }),
    changeKit: build.mutation<void, Changing<typeof routes.changeKit>>({
      query: ({ body, ...params }) => request(routes.changeKit, params, body),
      invalidatesTags: ['Kits', 'Devices'],
    }),
    deleteKit: build.mutation<void, number>({
      query: (kitId) => request(routes.deleteKit, { kitId }),
      invalidatesTags: ['Kits'],
    }),
    addSignalDefinition: build.mutation<
      ResponseOf<typeof routes.addSignalDefinition>,
      Changing<typeof routes.addSignalDefinition>
    >({
      query: ({ body, ...params }) => request(routes.addSignalDefinition, params, body),
      invalidatesTags: ['Kits', 'Devices'],
    }),
  }),
})

export const {
  useKitsQuery,
  useKitQuery,
  useCreateKitMutation,
  useChangeKitMutation,
  useDeleteKitMutation,
  useAddSignalDefinitionMutation,
} = kitsApi
