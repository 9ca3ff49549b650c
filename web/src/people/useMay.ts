import { type Access, mayAt, mayEverywhere, noAccess, type Role } from '@jaunty-sparrow/core/access'
import { useSessionQuery } from './peopleApi.ts'

/** What whoever is signed in may do. */
export function useAccess(): Access {
  const { data: session } = useSessionQuery()
  return session?.state === 'signed-in' ? session.person.access : noAccess
}

/**
 * Whether whoever is signed in has a role at a site.
 * @param siteId undefined for all sites
 */
export function useMay(role: Role, siteId?: number): boolean {
  const access = useAccess()
  return siteId === undefined ? mayEverywhere(access, role) : mayAt(access, role, siteId)
}
