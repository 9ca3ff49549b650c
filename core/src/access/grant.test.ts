import fc from 'fast-check'
import { type Access, type Role, roleAt, roles } from './access.ts'
import { granted, seenBy } from './grant.ts'

const role = fc.constantFrom<Role>(...roles)
const access: fc.Arbitrary<Access> = fc.record({
  everywhere: fc.option(role),
  sites: fc.uniqueArray(fc.record({ siteId: fc.integer({ min: 1, max: 4 }), role }), {
    selector: ({ siteId }) => siteId,
  }),
})
const elsewhere = 99

it('lets an owner of all sites say everything', () => {
  const owner: Access = { everywhere: 'owner', sites: [] }
  fc.assert(
    fc.property(access, access, (before, wanted) => {
      expect(granted(owner, before, wanted)).toEqual(wanted)
      expect(seenBy(owner, wanted)).toEqual(wanted)
    }),
  )
})

it('changes nothing at a site that is not the owner’s, whatever is wanted', () => {
  fc.assert(
    fc.property(access, access, access, (owner, before, wanted) => {
      fc.pre(owner.everywhere !== 'owner')
      const after = granted(owner, before, wanted)
      if (!after) return
      for (const site of [1, 2, 3, 4, elsewhere])
        if (roleAt(owner, site) !== 'owner') expect(roleAt(after, site)).toBe(roleAt(before, site))
    }),
  )
})

it('gives what an owner wants at the own sites, starting from what the owner sees', () => {
  fc.assert(
    fc.property(access, access, fc.option(role), (owner, before, wantedRole) => {
      const [own] = owner.sites.filter((at) => at.role === 'owner')
      fc.pre(own !== undefined && owner.everywhere !== 'owner')
      if (!own) return
      const seen = seenBy(owner, before)
      const wanted: Access = {
        ...seen,
        sites: [
          ...seen.sites.filter(({ siteId }) => siteId !== own.siteId),
          ...(wantedRole ? [{ siteId: own.siteId, role: wantedRole }] : []),
        ],
      }
      const after = granted(owner, before, wanted)
      expect(after?.sites.find(({ siteId }) => siteId === own.siteId)?.role ?? null).toBe(wantedRole)
    }),
  )
})
