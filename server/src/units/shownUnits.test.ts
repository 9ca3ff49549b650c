import { routes, type UnitChoices } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, send, serverUnderTest, TestPerson } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

const shownAs = async (person: TestPerson) => (await person.device('shed')).signals[0]?.shownAs

it('shows a signal in the unit its site chose, and to a person in the one they chose', async () => {
  const { owner } = server
  const { body: site } = await owner.call(routes.createSite, { body: { name: 'Shed', timeZone: 'UTC' } })
  const { body: made } = await owner.call(routes.createDevice, {
    body: { name: 'Shed', address: 'shed', siteId: site.id },
  })
  await send(server.origin, `shed.${made.secret}`, { temperature: 20 })
  await owner.accept('shed', '/temperature')
  const definitionId = (await owner.device('shed')).signals[0]?.definitionId ?? 0
  await owner.call(routes.changeSignalDefinition, { params: { definitionId }, body: { unit: 'Cel' } })
  expect(await shownAs(owner)).toBeNull()

  const { body: invited } = await owner.call(routes.createInvitation, {
    body: { role: 'viewer', siteIds: null },
  })
  const guest = new TestPerson(server.origin)
  await guest.call(routes.acceptInvitation, {
    body: { token: invited.token, person: { name: 'Tam Orrin', password: 'a brook, a bell, a barn' } },
  })
  const units = (choices: UnitChoices) => ({ params: { siteId: site.id }, body: { units: choices } })
  await owner.call(routes.changeSite, units([{ unit: 'Cel', as: '[degF]' }]))
  for (const person of [owner, guest])
    expect(await shownAs(person)).toEqual({ unit: '[degF]', multiply: 9, divide: 5, add: 32 })

  await guest.call(routes.changePreferences, { body: { units: [{ unit: 'Cel', as: 'K' }] } })
  expect(await shownAs(guest)).toEqual({ unit: 'K', multiply: 1, divide: 1, add: 273.15 })
  expect(await shownAs(owner)).toMatchObject({ unit: '[degF]' })
  // Back to its own unit, in spite of the site.
  await guest.call(routes.changePreferences, { body: { units: [{ unit: 'Cel', as: 'Cel' }] } })
  expect(await shownAs(guest)).toBeNull()
  // What is told stays in the unit of the signal.
  expect((await guest.device('shed')).signals[0]).toMatchObject({ unit: 'Cel', latest: { value: 20 } })

  const { body: link } = await owner.call(routes.createShareLink, {
    params: { address: 'shed' },
    body: { name: 'Shed', signalId: null, past: 'none', expiresAt: null, frameAncestors: [] },
  })
  const { body: page } = await new TestPerson(server.origin).call(routes.getSharedPage, {
    params: { token: link.token },
  })
  expect(page.signals[0]?.shownAs).toMatchObject({ unit: '[degF]' })
})

it.each([
  [[{ unit: 'Cel', as: 'hPa' }], /°C cannot be shown in hPa/],
  [[{ unit: 'furlong', as: 'm' }], /"furlong" is no unit/],
  [
    [
      { unit: 'm', as: 'cm' },
      { unit: 'm', as: 'mm' },
    ],
    /said twice in what m is shown/,
  ],
])('refuses %j, and says why', async (units, says) => {
  const answer = await server.owner.call(routes.changePreferences, { body: { units } })
  expect(answer).toMatchObject({ status: 400, body: { detail: expect.stringMatching(says) } })
})
