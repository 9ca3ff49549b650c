/** What somebody may do at a site, the least first: look; command, acknowledge and note; everything. */
export const roles = ['viewer', 'operator', 'owner'] as const
export type Role = (typeof roles)[number]

/** The roles of somebody: one everywhere, also at sites that come later, and further ones at single sites. */
export interface Access {
  everywhere: Role | null
  sites: { siteId: number; role: Role }[]
}

/** Who may do nothing. */
export const noAccess: Access = { everywhere: null, sites: [] }

const rank = (role: Role | null): number => (role === null ? -1 : roles.indexOf(role))
const higher = (a: Role | null, b: Role | null): Role | null => (rank(a) >= rank(b) ? a : b)
const lower = (a: Role | null, b: Role | null): Role | null => (rank(a) <= rank(b) ? a : b)

/** The highest role somebody has at a site; null for none. */
export function roleAt({ everywhere, sites }: Access, siteId: number): Role | null {
  let role = everywhere
  for (const own of sites) if (own.siteId === siteId) role = higher(role, own.role)
  return role
}

/** Whether somebody has at least this role at a site. */
export const mayAt = (access: Access, role: Role, siteId: number): boolean =>
  rank(roleAt(access, siteId)) >= rank(role)

/** Whether somebody has at least this role at every site, also at those that come later. */
export const mayEverywhere = ({ everywhere }: Access, role: Role): boolean => rank(everywhere) >= rank(role)

/** Whether somebody has at least this role at any site. */
export const maySomewhere = (access: Access, role: Role): boolean =>
  mayEverywhere(access, role) || access.sites.some((own) => rank(own.role) >= rank(role))

/**
 * What is left of somebody's roles where no more than one role is lent, and only at some sites.
 * @param siteIds null for wherever the lender has a role
 */
export function lent(access: Access, most: Role | null, siteIds: readonly number[] | null): Access {
  if (most === null) return noAccess
  const at = (siteId: number) => {
    const role = lower(most, roleAt(access, siteId))
    return role === null ? [] : [{ siteId, role }]
  }
  if (siteIds !== null) return { everywhere: null, sites: [...new Set(siteIds)].flatMap(at) }
  return {
    everywhere: lower(most, access.everywhere),
    sites: access.sites.flatMap(({ siteId }) => at(siteId)),
  }
}

/** The roles of both; of two at one site the higher one holds. */
export function joined(a: Access, b: Access): Access {
  const sites = new Map<number, Role>()
  for (const { siteId, role } of [...a.sites, ...b.sites])
    sites.set(siteId, higher(role, sites.get(siteId) ?? null) ?? role)
  return {
    everywhere: higher(a.everywhere, b.everywhere),
    sites: Array.from(sites, ([siteId, role]) => ({ siteId, role })),
  }
}
