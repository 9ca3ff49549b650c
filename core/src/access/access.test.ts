import fc from 'fast-check'
import {
  type Access,
  joined,
  lent,
  mayAt,
  mayEverywhere,
  maySomewhere,
  type Role,
  roleAt,
  roles,
} from './access.ts'
import { roleOf } from './scope.ts'

const role = fc.constantFrom<Role>(...roles)
const siteId = fc.integer({ min: 1, max: 4 })
const access: fc.Arbitrary<Access> = fc.record({
  everywhere: fc.option(role),
  sites: fc.array(fc.record({ siteId, role }), { maxLength: 4 }),
})

/** The roles that somebody has at a site, written out one by one. */
const all = ({ everywhere, sites }: Access, site: number): Role[] => [
  ...(everywhere ? [everywhere] : []),
  ...sites.flatMap((own) => (own.siteId === site ? [own.role] : [])),
]
/** A role and those it comes with. */
const including: Record<Role, Role[]> = {
  viewer: ['viewer'],
  operator: ['viewer', 'operator'],
  owner: ['viewer', 'operator', 'owner'],
}

it.each<[Role | null, Role | null, Role, boolean]>([
  [null, null, 'viewer', false],
  [null, 'viewer', 'viewer', true],
  [null, 'viewer', 'operator', false],
  ['viewer', 'operator', 'operator', true],
  ['operator', 'viewer', 'operator', true],
  ['operator', null, 'owner', false],
  ['owner', 'viewer', 'owner', true],
])('everywhere %s, here %s: may what a(n) %s may: %s', (everywhere, here, wanted, may) => {
  const sites = here ? [{ siteId: 1, role: here }] : []
  expect(mayAt({ everywhere, sites }, wanted, 1)).toBe(may)
})

it('says of every site what the roles one by one say', () => {
  fc.assert(
    fc.property(access, role, siteId, (who, wanted, site) => {
      const may = all(who, site).some((own) => including[own].includes(wanted))
      expect(mayAt(who, wanted, site)).toBe(may)
      const elsewhere = 99
      expect(mayEverywhere(who, wanted)).toBe(mayAt(who, wanted, elsewhere))
      expect(maySomewhere(who, wanted)).toBe([1, 2, 3, 4, elsewhere].some((at) => mayAt(who, wanted, at)))
    }),
  )
})

it('never lends more than somebody has, nor more than was lent, nor elsewhere', () => {
  const some = fc.option(fc.array(siteId, { maxLength: 3 }))
  fc.assert(
    fc.property(access, fc.option(role), some, siteId, (who, most, siteIds, site) => {
      const isMeant = siteIds === null || siteIds.includes(site)
      const expected = roles.filter(
        (wanted) => isMeant && most && including[most].includes(wanted) && mayAt(who, wanted, site),
      )
      expect(roleAt(lent(who, most, siteIds), site)).toBe(expected.at(-1) ?? null)
      if (siteIds !== null) expect(mayEverywhere(lent(who, most, siteIds), 'viewer')).toBe(false)
    }),
  )
})

it('joins the roles of two to what either may', () => {
  fc.assert(
    fc.property(access, access, role, siteId, (a, b, wanted, site) => {
      expect(mayAt(joined(a, b), wanted, site)).toBe(mayAt(a, wanted, site) || mayAt(b, wanted, site))
    }),
  )
})

it.each([
  [[], null],
  [['send'], null],
  [['read', 'send'], 'viewer'],
  [['command'], 'operator'],
  [['read', 'manage'], 'owner'],
] as const)('%j amount to %s', (held, most) => {
  expect(roleOf(held)).toBe(most)
})
