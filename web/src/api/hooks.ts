import { api } from './api.ts'

export const {
  useSessionQuery,
  useCreateOwnerMutation,
  useSignInMutation,
  useSignInByLinkMutation,
  useSignOutMutation,
  useSitesQuery,
  useCreateSiteMutation,
  useChangeSiteMutation,
  useDeleteSiteMutation,
  useDevicesQuery,
  useCreateDeviceMutation,
  useChangeDeviceMutation,
  useDeviceLossQuery,
  useDeleteDeviceMutation,
  useReplaceSecretMutation,
  useChangeSignalDefinitionMutation,
  useTracesQuery,
  useArrivalsQuery,
  useArrivalQuery,
  useTryMessageMutation,
} = api
