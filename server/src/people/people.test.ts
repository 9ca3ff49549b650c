import { once } from 'node:events'
import { type Access, linkEndedCode, routes, sessionEndedCode } from '@jaunty-sparrow/contract'
import { WebSocket } from 'ws'
import { LiveLine } from '../testing/liveLine.ts'
import { type ServerUnderTest, send, serverUnderTest, TestPerson } from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
const time = { now: Date.now }
beforeAll(async () => {
  server = await serverUnderTest(time)
})
afterEach(() => {
  time.now = Date.now
})
afterAll(() => server.close())

const password = 'a brook, a bell, a barn'
let count = 0

/** A site with a device that has said something. */
async function place(name: string) {
  const { body: site } = await server.owner.call(routes.createSite, { body: { name, timeZone: 'UTC' } })
  const address = name.toLowerCase().replaceAll(' ', '-')
  const { body } = await server.owner.call(routes.createDevice, {
    body: { name: `Board of ${name}`, address, siteId: site.id },
  })
  const token = `${address}.${body.secret}`
  await send(server.origin, token, { [address]: 20 })
  await server.owner.accept(address, `/${address}`)
  const signal = (await server.owner.device(address)).signals[0]?.id ?? 0
  return { siteId: site.id, address, deviceId: body.device.id, signal, token }
}

/** Somebody who came in by an invitation. */
async function guest(role: 'viewer' | 'operator' | 'owner', siteIds: number[] | null): Promise<TestPerson> {
  const { body } = await server.owner.call(routes.createInvitation, { body: { role, siteIds } })
  const person = new TestPerson(server.origin)
  const name = `Guest ${++count}`
  await person.call(routes.acceptInvitation, { body: { token: body.token, person: { name, password } } })
  return person
}

const me = async (person: TestPerson) => {
  const { body } = await person.call(routes.getSession)
  if (body.state !== 'signed-in') throw new Error('signed out')
  return body.person
}

describe('an invitation', () => {
  it('lets one person in, with the role and the sites that it names', async () => {
    const shed = await place('Invited shed')
    const { body } = await server.owner.call(routes.createInvitation, {
      body: { role: 'operator', siteIds: [shed.siteId] },
    })
    const reader = new TestPerson(server.origin)
    const offer = await reader.call(routes.readInvitation, { body: { token: body.token } })
    expect(offer.body).toEqual({ role: 'operator', sites: ['Invited shed'], by: 'Ines Marlow' })
    const come = (name: string) =>
      new TestPerson(server.origin).call(routes.acceptInvitation, {
        body: { token: body.token, person: { name, password } },
      })
    const both = await Promise.all([come('Tam Orrin'), come('Wren Halloway')])
    expect(both.map(({ status }) => status).sort()).toEqual([201, 401])
  })

  it('adds to what somebody may already, and takes nothing away', async () => {
    const [attic, cellar] = [await place('Attic'), await place('Cellar')]
    const person = await guest('owner', [attic.siteId])
    const { body } = await server.owner.call(routes.createInvitation, {
      body: { role: 'viewer', siteIds: [attic.siteId, cellar.siteId] },
    })
    await person.call(routes.acceptInvitation, { body: { token: body.token } })
    expect((await me(person)).access.sites).toEqual([
      { siteId: attic.siteId, role: 'owner' },
      { siteId: cellar.siteId, role: 'viewer' },
    ])
  })

  it('ends after seven days, and when whoever made it may not give that any more', async () => {
    const barn = await place('Barn')
    const owner = await guest('owner', [barn.siteId])
    const invite = async () =>
      (await owner.call(routes.createInvitation, { body: { role: 'viewer', siteIds: [barn.siteId] } })).body
        .token
    const [late, orphaned] = [await invite(), await invite()]
    const take = async (token: string) =>
      (
        await new TestPerson(server.origin).call(routes.acceptInvitation, {
          body: { token, person: { name: `Guest ${++count}`, password } },
        })
      ).status
    time.now = () => Date.now() + 7 * 86_400_000 + 1
    expect(await take(late)).toBe(401)
    time.now = Date.now
    const { id } = await me(owner)
    await server.owner.call(routes.changeAccess, {
      params: { personId: id },
      body: { everywhere: null, sites: [] },
    })
    expect(await take(orphaned)).toBe(401)
  })

  it('is not for an owner of one site to give for another', async () => {
    const [mine, other] = [await place('Mine'), await place('Not mine')]
    const owner = await guest('owner', [mine.siteId])
    const invite = async (siteIds: number[] | null) =>
      (await owner.call(routes.createInvitation, { body: { role: 'viewer', siteIds } })).status
    expect([await invite([mine.siteId]), await invite([other.siteId]), await invite(null)]).toEqual([
      201, 403, 403,
    ])
  })
})

describe('two people with different sites at once', () => {
  it('see their own, and in no answer anything of the other’s', async () => {
    const [north, south] = [await place('North loft'), await place('South loft')]
    const people = [await guest('owner', [north.siteId]), await guest('owner', [south.siteId])] as const
    await server.owner.call(routes.createKit, { body: { name: 'Anybody’s kit', cadence: null, signals: [] } })
    const answers = async (person: TestPerson) =>
      JSON.stringify([
        (await person.call(routes.listSites)).body,
        (await person.call(routes.listDevices)).body,
        (await person.call(routes.listKits)).body,
        (await person.call(routes.listEvents, { query: { from: 0, to: Date.now() + 1000 } })).body,
        (await person.call(routes.listArrivals)).body,
        (await person.call(routes.listClaims)).body,
        (await person.call(routes.listPeople)).body,
        (await person.call(routes.listInvitations)).body,
        (await person.call(routes.listTokens)).body,
      ]).toLowerCase()
    const [first, second] = [await answers(people[0]), await answers(people[1])]
    expect(first).toContain('north-loft')
    expect(second).toContain('south-loft')
    for (const [said, hidden] of [
      [first, 'south'],
      [second, 'north'],
    ] as const)
      expect(said).not.toContain(hidden)
  })

  it('hear live of their own, and nothing of the other’s', async () => {
    const [east, west] = [await place('East wing'), await place('West wing')]
    const person = await guest('viewer', [east.siteId])
    const line = await LiveLine.open(server.origin, person.cookie, {
      subscribe: [east.signal, west.signal],
      presence: true,
      arrivals: true,
    })
    const snapshot = await line.hear((frame) => (frame.kind === 'snapshot' ? frame.signals : undefined))
    expect(snapshot.map(({ signal }) => signal)).toEqual([east.signal])
    const frames: string[] = []
    const collected = line.hear((frame) => {
      frames.push(JSON.stringify(frame))
      return frame.kind === 'readings' && frame.signals.some(({ readings }) => readings.at(-1)?.[2] === 77)
        ? true
        : undefined
    })
    await send(server.origin, west.token, { 'west-wing': 66 })
    await server.owner.call(routes.changeDevice, {
      params: { address: west.address },
      body: { name: 'West' },
    })
    await send(server.origin, east.token, { 'east-wing': 77 })
    await collected
    line.close()
    expect(frames.join('\n')).not.toMatch(/west/i)
    expect(frames.join('\n')).not.toContain(`"signal":${west.signal},`)
    expect(frames.join('\n')).not.toContain(`"device":${west.deviceId},`)
  })
})

describe('what somebody may', () => {
  it('changes at once, also on a page that is open', async () => {
    const yard = await place('Yard')
    const person = await guest('viewer', [yard.siteId])
    const socket = new WebSocket(`${server.origin.replace('http', 'ws')}/live`, {
      headers: { Cookie: person.cookie, Origin: server.origin },
    })
    await once(socket, 'open')
    const closed = once(socket, 'close')
    const { id } = await me(person)
    const none: Access = { everywhere: null, sites: [] }
    await server.owner.call(routes.changeAccess, { params: { personId: id }, body: none })
    expect((await closed)[0]).toBe(1012)
    expect((await person.call(routes.getDevice, { params: { address: yard.address } })).status).toBe(403)
    const again = new WebSocket(`${server.origin.replace('http', 'ws')}/live`, {
      headers: { Cookie: person.cookie, Origin: server.origin },
    })
    await once(again, 'open')
    const ended = once(again, 'close')
    await server.owner.call(routes.removePerson, { params: { personId: id } })
    expect((await ended)[0]).toBe(sessionEndedCode)
  })

  it('goes with the site of a device that is moved, also on a page that is open', async () => {
    const [from, to] = [await place('Old place'), await place('New place')]
    const person = await guest('viewer', [from.siteId])
    const line = await LiveLine.open(server.origin, person.cookie, { subscribe: [from.signal] })
    await line.hear((frame) => (frame.kind === 'snapshot' ? true : undefined))
    await server.owner.call(routes.changeDevice, {
      params: { address: from.address },
      body: { siteId: to.siteId },
    })
    const told: string[] = []
    const changed = line.hear((frame) => {
      told.push(JSON.stringify(frame))
      return frame.kind === 'changed' ? true : undefined
    })
    await send(server.origin, from.token, { 'old-place': 4711 })
    await changed
    await server.owner.call(routes.changeSite, {
      params: { siteId: to.siteId },
      body: { name: 'Newest place' },
    })
    await line.hear((frame) => {
      told.push(JSON.stringify(frame))
      return frame.kind === 'changed' && frame.changes.some(({ what }) => what === 'sites') ? true : undefined
    })
    line.close()
    expect(told.join('\n')).not.toContain('4711')
    expect((await person.call(routes.getDevice, { params: { address: from.address } })).status).toBe(404)
  })

  it('is one role a site, also where a site was named twice', async () => {
    const coop = await place('Coop')
    const person = await guest('viewer', [coop.siteId])
    const { id } = await me(person)
    const twice: Access = {
      everywhere: null,
      sites: [
        { siteId: coop.siteId, role: 'viewer' },
        { siteId: coop.siteId, role: 'operator' },
      ],
    }
    expect(
      (await server.owner.call(routes.changeAccess, { params: { personId: id }, body: twice })).status,
    ).toBe(204)
    expect((await me(person)).access.sites).toEqual([{ siteId: coop.siteId, role: 'operator' }])
  })

  it('leaves somebody who owns all sites, whoever leaves', async () => {
    const second = await guest('owner', null)
    const { id } = await me(server.owner)
    const leaving = [second.call(routes.leave), server.owner.call(routes.leave)]
    expect((await Promise.all(leaving)).map(({ status }) => status).sort()).toEqual([204, 409])
    // The test goes on with the one who stayed.
    if ((await second.call(routes.listSites)).status === 200) {
      server.owner.cookie = second.cookie
      server.owner.csrfToken = second.csrfToken
    } else expect((await me(server.owner)).id).toBe(id)
  })

  it('is of a kit for an owner of every site that it reaches', async () => {
    const [one, two] = [await place('Kit site one'), await place('Kit site two')]
    const { body: kit } = await server.owner.call(routes.createKit, {
      body: { name: 'Both', cadence: null, signals: [] },
    })
    for (const { siteId, address } of [one, two])
      await server.owner.call(routes.createDevice, {
        body: { name: 'Node', address: `${address}-node`, siteId, kitId: kit.id },
      })
    const change = async (person: TestPerson) =>
      (
        await person.call(routes.changeKit, {
          params: { kitId: kit.id },
          body: { cadence: { by: 'always', seconds: 5 } },
        })
      ).status
    expect(await change(await guest('owner', [one.siteId]))).toBe(403)
    expect(await change(await guest('owner', [one.siteId, two.siteId]))).toBe(204)
  })
})

describe('one’s own page', () => {
  it('takes a new password for the old one, ends the other sessions, and forgets the old one after a link', async () => {
    const person = await guest('viewer', null)
    const { name, id } = await me(person)
    const elsewhere = new TestPerson(server.origin)
    await elsewhere.call(routes.signIn, { body: { name, password } })
    expect((await person.call(routes.listSessions)).body.map(({ isThis }) => isThis).sort()).toEqual([
      false,
      true,
    ])
    const next = 'another brook altogether'
    const change = async (who: TestPerson, current?: string) =>
      (await who.call(routes.changePassword, { body: { password: next, ...(current && { current }) } }))
        .status
    expect([await change(person), await change(person, 'not this'), await change(person, password)]).toEqual([
      403, 403, 204,
    ])
    expect((await elsewhere.call(routes.listSessions)).status).toBe(401)
    const { body: link } = await server.owner.call(routes.createSignInLinkFor, { params: { personId: id } })
    const lost = new TestPerson(server.origin)
    await lost.call(routes.signInByLink, { body: { token: link.token } })
    expect([await change(lost), await change(lost)]).toEqual([204, 403])
  })
})

describe('what was done by whom', () => {
  it('is kept with what was before and after, also when whoever did it is gone', async () => {
    const hut = await place('Hut')
    const person = await guest('owner', [hut.siteId])
    const { name, id } = await me(person)
    await person.call(routes.changeDevice, { params: { address: hut.address }, body: { name: 'Hut node' } })
    const from = Date.now() - 60_000
    const log = async () =>
      (
        await server.owner.call(routes.listEvents, {
          query: { from, to: Date.now() + 1000, changes: true, deviceId: hut.deviceId },
        })
      ).body[0]
    expect(await log()).toMatchObject({
      person: name,
      siteId: hut.siteId,
      change: { before: { name: 'Board of Hut' }, after: { name: 'Hut node' } },
    })
    await server.owner.call(routes.removePerson, { params: { personId: id } })
    expect((await log())?.person).toBe(name)
  })
})

describe('a token', () => {
  const make = async (person: TestPerson, body: object) => {
    const answer = await person.call(routes.createToken, {
      body: { name: 'Script', scopes: ['read'], siteIds: null, devices: [], expiresAt: null, ...body },
    })
    return answer.body
  }
  const bearer = (token: string) => ({ Authorization: `Bearer ${token}` })
  const anybody = () => new TestPerson(server.origin)

  it('loses with its maker what it may, ends in time and when it is taken back', async () => {
    const dairy = await place('Dairy')
    const person = await guest('viewer', [dairy.siteId])
    const [kept, ending] = [await make(person, {}), await make(person, { expiresAt: Date.now() + 60_000 })]
    const ask = async (token: string) =>
      (await anybody().call(routes.getDevice, { params: { address: dairy.address } }, bearer(token))).status
    expect([await ask(kept.token), await ask(ending.token)]).toEqual([200, 200])
    time.now = () => Date.now() + 61_000
    expect(await ask(ending.token)).toBe(401)
    time.now = Date.now
    expect((await person.call(routes.listTokens)).body[0]?.usedAt).toEqual(expect.any(Number))
    await server.owner.call(routes.changeAccess, {
      params: { personId: (await me(person)).id },
      body: { everywhere: null, sites: [] },
    })
    expect(await ask(kept.token)).toBe(403)
    await person.call(routes.withdrawToken, { params: { tokenId: kept.description.id } })
    expect(await ask(kept.token)).toBe(401)
  })

  it('sends for the devices it names, and for no other', async () => {
    const [yes, no] = [await place('Sent for'), await place('Not sent for')]
    const { token } = await make(server.owner, { scopes: ['send'], devices: [yes.address] })
    const post = async (query: string) =>
      (
        await fetch(`${server.origin}/in${query}`, {
          method: 'POST',
          headers: { ...bearer(token), 'Content-Type': 'application/json' },
          body: '{"sent-for": 5}',
        })
      ).status
    expect([
      await post(''),
      await post(`?device=${yes.address}`),
      await post(`?device=${no.address}`),
    ]).toEqual([204, 204, 403])
    expect(await server.owner.values(yes.address, '/sent-for')).toHaveLength(3)
  })

  it('follows live readings as a stream of events', async () => {
    const spring = await place('Spring')
    const { token } = await make(server.owner, {})
    const answer = await fetch(`${server.origin}/api/live?signals=${spring.signal}`, {
      headers: bearer(token),
    })
    expect(answer.headers.get('content-type')).toMatch('text/event-stream')
    const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader()
    let heard = ''
    const until = async (text: string) => {
      while (!heard.includes(text)) heard += (await reader?.read())?.value ?? ''
    }
    await until('"kind":"snapshot"')
    await send(server.origin, spring.token, { spring: 4711 })
    await until('4711')
    expect(heard).toMatch(/^data: \{.*\}\n\ndata: /)
    await reader?.cancel()
  })
})

describe('a link to share', () => {
  it('shows what it names to anybody, until it is withdrawn, also on an open page', async () => {
    const [shown, hidden] = [await place('Shown'), await place('Hidden')]
    const { body: made } = await server.owner.call(routes.createShareLink, {
      params: { address: shown.address },
      body: { name: 'Our milk', signalId: null, past: 'none', frameAncestors: [], expiresAt: null },
    })
    const { token } = made
    const stranger = new TestPerson(server.origin)
    const page = await stranger.call(routes.getSharedPage, { params: { token } })
    expect(page.body).toMatchObject({ name: 'Our milk', signals: [{ id: shown.signal, field: '' }] })
    expect(page.headers.getSetCookie()).toEqual([])
    const traces = async (signal: number, from: number) =>
      stranger.call(routes.getSharedTraces, {
        params: { token },
        query: { signals: String(signal), from, to: Date.now(), columns: 100 },
      })
    expect((await traces(hidden.signal, 0)).status).toBe(404)
    // Nothing of the past: what is older than an hour is not told.
    await server.owner.call(routes.importFile, {
      params: { address: shown.address },
      body: {
        mediaType: 'text/csv',
        text: `time,shown\n${new Date(Date.now() - 7_200_000).toISOString()},1\n`,
      },
    })
    expect((await traces(shown.signal, 0)).body[0]?.points.map(([, value]) => value)).toEqual([20])
    const last = (signal: number) =>
      stranger.call(routes.getSharedLastReadings, {
        params: { token },
        query: { signals: String(signal), to: Date.now(), most: 20 },
      })
    expect((await last(hidden.signal)).status).toBe(404)
    expect((await last(shown.signal)).body.map(({ value }) => value)).toEqual([20])
    // What began earlier would tell of the past.
    const began = Date.now() - 3_600_000
    const ofMonths = await stranger.call(routes.getSharedTotals, {
      params: { token },
      query: { signals: String(shown.signal), from: began - 86_400_000, to: Date.now(), by: 'month' },
    })
    expect(ofMonths.body).toHaveLength(1)
    expect(ofMonths.body[0]?.totals.filter(({ from }) => from < began)).toEqual([])
    const socket = new WebSocket(`${server.origin.replace('http', 'ws')}/live?link=${token}`)
    await once(socket, 'open')
    socket.send(JSON.stringify({ subscribe: [shown.signal, hidden.signal], arrivals: true, presence: true }))
    const frames: string[] = []
    socket.on('message', (data) => frames.push(String(data)))
    await once(socket, 'message')
    await send(server.origin, shown.token, { shown: 21 })
    while (!frames.some((frame) => frame.includes('"kind":"readings"'))) await once(socket, 'message')
    expect(frames.join('\n')).not.toMatch(/"presence"|"arrivals"|hidden/)
    const links = await server.owner.call(routes.listShareLinks, { params: { address: shown.address } })
    expect(links.body).toMatchObject([{ looks: 1, lookingOn: 1 }])
    const closed = once(socket, 'close')
    await server.owner.call(routes.withdrawShareLink, { params: { linkId: made.link.id } })
    expect((await closed)[0]).toBe(linkEndedCode)
    expect((await stranger.call(routes.getSharedPage, { params: { token } })).status).toBe(401)
  })

  it('opens no other route, and not too much at once', async () => {
    const field = await place('Field')
    const { body } = await server.owner.call(routes.createShareLink, {
      params: { address: field.address },
      body: { name: 'Field', signalId: field.signal, past: 'all', frameAncestors: [], expiresAt: null },
    })
    const stranger = new TestPerson(server.origin)
    for (const headers of [
      { Authorization: `Bearer ${body.token}` },
      { Cookie: `sparrow_session=${body.token}` },
    ])
      expect((await stranger.call(routes.listDevices, {}, headers)).status).toBe(401)
    const now = Date.now()
    time.now = () => now
    const statuses: number[] = []
    const look = async () => {
      while (statuses.length < 1250)
        statuses.push((await stranger.call(routes.getSharedPage, { params: { token: body.token } })).status)
    }
    // All in one instant of the server's clock; a thousand connections at once would be the system's business.
    await Promise.all(Array.from({ length: 50 }, look))
    expect(statuses.filter((status) => status === 200).length).toBeLessThanOrEqual(1200)
    expect(statuses).toContain(429)
  })
})
