import { type NewSignalDefinition, routes } from '@jaunty-sparrow/contract'
import type { Scope } from '@jaunty-sparrow/core/access'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { type ServerUnderTest, serverUnderTest, TestPerson } from '../testing/serverUnderTest.ts'

const roles = ['viewer', 'operator', 'owner'] as const
type Role = (typeof roles)[number]
const password = 'a gate, a goat, a bell'

let server: ServerUnderTest
/** Of each site, what operators may ask for and what owners alone may. */
let signals: { readonly here: Record<string, number>; readonly there: Record<string, number> }
let siteId: number

beforeAll(async () => {
  server = await serverUnderTest()
  const { owner } = server
  const relay = (name: string, role: 'operator' | 'owner'): NewSignalDefinition => ({
    field: `/${name}`,
    name,
    kind: 'switch',
    origin: 'controlled',
    control: { ...usualControl, unless: [], role },
  })
  const { body: kit } = await owner.call(routes.createKit, {
    body: {
      name: 'Relays',
      cadence: null,
      signals: [relay('everyday', 'operator'), relay('grave', 'owner')],
    },
  })
  const at = async (name: string) => {
    const { body: site } = await owner.call(routes.createSite, { body: { name, timeZone: 'UTC' } })
    const { body } = await owner.call(routes.createDevice, {
      body: { name, address: name.toLowerCase(), siteId: site.id, kitId: kit.id },
    })
    return {
      site: site.id,
      signals: Object.fromEntries(body.device.signals.map((each) => [each.name, each.id])),
    }
  }
  const [here, there] = [await at('Here'), await at('There')]
  siteId = here.site
  signals = { here: here.signals, there: there.signals }
})
afterAll(() => server.close())

/** Somebody with a role at the first site alone. */
async function somebody(role: Role): Promise<TestPerson> {
  const { owner } = server
  const { body } = await owner.call(routes.createInvitation, { body: { role, siteIds: [siteId] } })
  const person = new TestPerson(server.origin)
  await person.call(routes.acceptInvitation, {
    body: { token: body.token, person: { name: `A ${role}`, password } },
  })
  return person
}

/** How an asking of a signal is answered: by the page's own way, or with a token. */
async function answer(person: TestPerson, token: string | undefined, signalId: number | undefined) {
  if (token === undefined)
    return (await person.ask(routes.requestCommands, { body: { signals: [signalId ?? 0], value: 1 } })).status
  const response = await fetch(`${server.origin}/api/commands`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${token}` },
    body: JSON.stringify({ signals: [signalId], value: 1 }),
  })
  return response.status
}

const scopes: readonly (readonly Scope[] | undefined)[] = [
  undefined,
  ['read'],
  ['read', 'command'],
  ['read', 'command', 'manage'],
]

/** Said once more, apart from the program: what whoever asks gets. */
function expected(role: Role, scope: readonly Scope[] | undefined, signal: string, place: string): number {
  const rank = roles.indexOf(role)
  const byToken = scope === undefined ? 2 : scope.includes('manage') ? 2 : scope.includes('command') ? 1 : 0
  const has = Math.min(rank, byToken)
  // Whoever may command nowhere is told so before anything is looked for.
  if (has < 1) return 403
  if (place === 'there') return 404
  return has >= (signal === 'grave' ? 2 : 1) ? 200 : 403
}

it.each(roles)('%s: may ask what the signal says, by session or token, at their own site', async (role) => {
  const person = await somebody(role)
  const found: string[] = []
  const wanted: string[] = []
  for (const scope of scopes) {
    const token =
      scope &&
      (
        await person.call(routes.createToken, {
          body: { name: scope.join(' '), scopes: [...scope], siteIds: null, devices: [], expiresAt: null },
        })
      ).body.token
    for (const place of ['here', 'there'] as const)
      for (const signal of ['everyday', 'grave']) {
        const name = `${scope?.join(' ') ?? 'session'}, ${signal} ${place}`
        found.push(`${name}: ${await answer(person, token, signals[place][signal])}`)
        wanted.push(`${name}: ${expected(role, scope, signal, place)}`)
      }
  }
  expect(found).toEqual(wanted)
})
