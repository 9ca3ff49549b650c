import { type Access, mayAt, mayEverywhere } from './access.ts'

/** As much of somebody's roles as an owner sees: those everywhere, and at the sites that are the owner's. */
export const seenBy = (owner: Access, { everywhere, sites }: Access): Access => ({
  everywhere,
  sites: sites.filter(({ siteId }) => mayAt(owner, 'owner', siteId)),
})

/**
 * What somebody may do after an owner has said so. Roles at sites that are not the owner's stay as they were.
 * @param wanted as the owner sees it: a role everywhere is for owners of all sites to give and to take
 * @returns undefined where it is not for this owner to say
 */
export function granted(owner: Access, before: Access, wanted: Access): Access | undefined {
  if (mayEverywhere(owner, 'owner')) return wanted
  if (wanted.everywhere !== before.everywhere) return undefined
  const isOwn = ({ siteId }: Access['sites'][number]) => mayAt(owner, 'owner', siteId)
  if (!wanted.sites.every(isOwn)) return undefined
  return {
    everywhere: before.everywhere,
    sites: [...before.sites.filter((role) => !isOwn(role)), ...wanted.sites],
  }
}
