import { useSessionQuery } from './peopleApi.ts'

/** Whether whoever looks may also change; the server checks it again. */
export function useIsOwner(): boolean {
  const { data: session } = useSessionQuery()
  return session?.state === 'signed-in' && session.person.role === 'owner'
}
