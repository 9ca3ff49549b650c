import { type Answer, type Asked, type Route, routes } from '@jaunty-sparrow/contract'
import { untoldAlarm } from '@jaunty-sparrow/core/signal'
import { partition } from 'lodash-es'
import pg from 'pg'
import { hashToken, newToken } from '../secrets/token.ts'
import { type RunningServer, startServer } from '../server.ts'
import { emptyDatabase, send, TestPerson, testConfig } from '../testing/serverUnderTest.ts'

type Name = keyof typeof routes

/** Who may what where, written down once more and apart from the contract: a slip there would open a door. */
const table = {
  viewer: {
    'at its site': `getSiteDay getKit getDevice listDescriptionVersions listCalibrations followReadings getTraces
      getTotals getReadingsAt getLastReadings getDescriptionsAt getArrival tryMessage tryConversion explainValue proposeFaults getDashboard listDashboardVersions
      listRuleActs getAlarm listAlarmActs`,
    'at any site':
      'listSites listKits listDevices listEvents getReach listArrivals listClaims getCapacity listDashboards listCommands listRules listAlarms getAlarmRecord',
  },
  operator: {
    'at its site':
      'changeDoubt createNote requestCommands switchRule resumeRules tryRule moveAlarms tryAlarm testWay testBuzzer testWalls',
    'at any site': 'listWays listNotices getPushKey',
  },
  owner: {
    'at its site': `changeSite deleteSite changeKit deleteKit addSignalDefinition createDevice changeDevice getDeviceLoss
      deleteDevice replaceSecret changeSignalDefinition changeOwnSettings addCalibration takeBackCalibration tryDerivation pauseSerialPort
      replaceHardware previewKitExchange exchangeKit
      previewRecomputation listRecomputations createRecomputation undoRecomputation
      createClaim deleteClaim previewRereading listRereadings createRereading undoRereading importFile storeFile
      createShareLink listShareLinks withdrawShareLink createDashboardLink listDashboardLinks
      createDashboard publishDashboard deleteDashboard deleteNote createRule changeRule deleteRule orderRules createWay changeWay deleteWay createInvitation withdrawInvitation changeAccess`,
    'at any site': 'createKit listPeople listInvitations',
    'at all sites': `createSite listUnclaimed listSerialPorts setSerialPort removeSerialPort measureCapacity getCondition
      confirmClock removePerson createSignInLinkFor`,
  },
  person: {
    'at any site': `signOut createSignInLink changePreferences changePassword listSessions endSession leave leaveSite
      listTokens createToken withdrawToken`,
  },
  anyone: {
    'at any site': `getSession createOwner signIn signInByLink readInvitation acceptInvitation getSharedPage
      getMapTiles getSharedTraces getSharedTotals getSharedLastReadings getPaper readSeenLink useSeenLink`,
  },
} as const
const noPrograms =
  'listPeople changeAccess removePerson createSignInLinkFor listInvitations createInvitation withdrawInvitation'

interface Need {
  readonly name: Name
  readonly role: keyof typeof table
  readonly where: string
  readonly noPrograms: boolean
}
const needs: Need[] = Object.entries(table).flatMap(([role, places]) =>
  Object.entries(places).flatMap(([where, names]) =>
    names.split(/\s+/).map((name) => ({
      name: name as Name,
      role: role as keyof typeof table,
      where,
      noPrograms: role === 'person' || noPrograms.split(' ').includes(name),
    })),
  ),
)

const ranks = ['viewer', 'operator', 'owner']

/** Whoever asks: with a role at all sites, at the first one, or with none; with a session or a token. */
interface Who {
  readonly role: 'viewer' | 'operator' | 'owner' | null
  readonly at: 'all' | 'first'
  readonly by: 'session' | 'token'
}
const all: Who[] = (['session', 'token'] as const).flatMap((by) => [
  { role: null, at: 'all', by },
  ...(['viewer', 'operator', 'owner'] as const).flatMap((role) =>
    (['all', 'first'] as const).map((at) => ({ role, at, by })),
  ),
])
const scopeOf = { viewer: 'read', operator: 'command', owner: 'manage' }

function mayDo({ role, at, by }: Who, need: Need, site: 'first' | 'second'): boolean {
  if (need.role === 'anyone') return true
  if (by === 'token' && need.noPrograms) return false
  if (need.role === 'person') return true
  if (role === null || ranks.indexOf(role) < ranks.indexOf(need.role)) return false
  return at === 'all' || (need.where === 'at its site' && site === 'first') || need.where === 'at any site'
}

/** Things at a site that requests name. */
interface Stage {
  readonly siteId: number
  readonly address: string
  readonly deviceId: number
  readonly signalId: number
  readonly definitionId: number
  readonly kitId: number
  readonly emptyKit: number
  readonly calibrationId: number
  readonly claimId: number
  readonly rereadingId: number
  readonly recomputationId: number
  readonly linkId: number
  readonly dashboardId: number
  readonly eventId: number
  readonly relayId: number
  readonly ruleId: number
  readonly wayId: number
  readonly arrivalId: number
  readonly invitationId: number
  readonly personId: number
  readonly linkToken: string
  readonly pageToken: string
  readonly invitationToken: string
  /** Of whoever asks. */
  readonly own: { readonly sessionId: number; readonly tokenId: number }
}

let server: RunningServer
let root: TestPerson
let sql: pg.Client
let count = 0
const password = 'a gate, a goat, a bell'

beforeAll(async () => {
  const databaseUrl = await emptyDatabase()
  server = await startServer(testConfig(databaseUrl), { webRoot: undefined, now: Date.now })
  root = new TestPerson(server.url)
  await root.becomeOwner(server.firstRunToken)
  sql = new pg.Client({ connectionString: databaseUrl })
  await sql.connect()
})
afterAll(async () => {
  await sql.end()
  await server.close()
})

const one = async (text: string, values: unknown[]): Promise<number> =>
  (await sql.query(text, values)).rows[0].id

/** Everything that a request can name, at a site of its own; the owner of all sites has made it. */
async function stage(): Promise<Omit<Stage, 'own'>> {
  const n = ++count
  const address = `board-${n}`
  const { body: site } = await root.call(routes.createSite, { body: { name: `Place ${n}`, timeZone: 'UTC' } })
  const { body: kit } = await root.call(routes.createKit, {
    body: {
      name: `Kit ${n}`,
      cadence: null,
      signals: [
        { field: '/temp', name: `Reading ${n}`, kind: 'number', alarms: [silence] },
        { field: '/relay', name: `Relay ${n}`, kind: 'switch', origin: 'controlled' },
      ],
    },
  })
  const { body: emptyKit } = await root.call(routes.createKit, {
    body: { name: `Spare kit ${n}`, cadence: null, signals: [] },
  })
  const { body: made } = await root.call(routes.createDevice, {
    body: { name: `Board ${n}`, address, siteId: site.id, kitId: kit.id },
  })
  await send(server.url, `${address}.${made.secret}`, { temp: 20 })
  const { device } = made
  const [signal, relay] = device.signals
  if (!signal || !relay) throw new Error('the device has no signals')
  const { body: calibration } = await root.call(routes.addCalibration, {
    params: { signalId: signal.id },
    body: { gain: 1, offset: 0.5, validFrom: 0, evidence: 'ice water' },
  })
  const { body: claim } = await root.call(routes.createClaim, { body: claimOf(device.id, n) })
  const { body: link } = await root.call(routes.createShareLink, { params: { address }, body: share })
  const { body: page } = await root.call(routes.createDashboard, { body: { siteId: site.id, ...pageShown } })
  const { body: pageLink } = await root.call(routes.createDashboardLink, {
    params: { dashboardId: page.id },
    body: { name: 'On paper', instrumentId: null, past: 'day', frameAncestors: [], expiresAt: null },
  })
  const { body: note } = await root.call(routes.createNote, {
    body: { says: 'a door stood open', at: Date.now(), siteId: site.id },
  })
  const { body: standing } = await root.call(routes.createRule, {
    params: { signalId: relay.id },
    body: rule(signal.id),
  })
  const { body: way } = await root.call(routes.createWay, {
    body: { siteId: site.id, kind: 'webhook', ...wayShown },
  })
  const { body: invitation } = await root.call(routes.createInvitation, {
    body: { role: 'viewer', siteIds: [site.id], note: `guest ${n}` },
  })
  const { body: invitations } = await root.call(routes.listInvitations)
  const { body: arrivals } = await root.call(routes.listArrivals, { query: { deviceId: device.id } })
  const personId = await one(
    `with made as (insert into person (name, password_hash) values ($1, '') returning id)
     insert into membership (person_id, site_id, role) select id, $2, 'viewer' from made returning person_id as id`,
    [`Neighbour ${n}`, site.id],
  )
  return {
    siteId: site.id,
    address,
    deviceId: device.id,
    signalId: signal.id,
    definitionId: signal.definitionId,
    kitId: kit.id,
    emptyKit: emptyKit.id,
    calibrationId: calibration.id,
    claimId: claim.claim.id,
    rereadingId: await one(
      `insert into rereading (device_id, messages, added, changed, removed) values ($1, 0, 0, 0, 0) returning id`,
      [device.id],
    ),
    recomputationId: await one(
      `insert into recomputation (signal_id, from_at, to_at, done_at) values ($1, now(), now(), now()) returning id`,
      [signal.id],
    ),
    linkId: link.link.id,
    dashboardId: page.id,
    eventId: note.id,
    relayId: relay.id,
    ruleId: standing.id,
    wayId: way.way.id,
    arrivalId: arrivals[0]?.id ?? 0,
    invitationId: invitations.at(-1)?.id ?? 0,
    personId,
    linkToken: link.token,
    pageToken: pageLink.token,
    invitationToken: invitation.token,
  }
}

const claimOf = (deviceId: number, n: number) => ({
  keyId: deviceId,
  by: 'topic' as const,
  place: `plant/${n}/room`,
  value: null,
  part: '',
  deviceId,
})
const share = { name: 'For all', signalId: null, past: 'day' as const, frameAncestors: [], expiresAt: null }
const wayShown = { name: 'A script', target: 'http://127.0.0.1:9/', tellings: [] }
const pageShown = { name: 'All of it', isMine: false, role: 'viewer' as const, shows: { chapters: [] } }
const span = { from: Date.now() - 3_600_000, to: Date.now() + 3_600_000 }
const rule = (signalId: number) => ({
  name: 'Low',
  rule: {
    inputs: [{ name: 'a', signal: signalId }],
    when: { formula: 'a < 5', atLeast: 0 },
    until: null,
    clock: null,
    value: 1,
    otherwise: 0,
    leastOn: 0,
    leastOff: 0,
    mostAnHour: null,
    whenUnknown: 'rest' as const,
    safeAfterAway: false,
  },
})
const silence = {
  ...untoldAlarm,
  key: 'silence',
  occasion: { by: 'silence', from: 'silent', atLeast: 0 },
  priority: 'minor',
} as const
const fresh = () => `fresh-${++count}`

/** A request to each route that succeeds for who may. */
const requests: { readonly [N in Name]: (on: Stage) => Asked<(typeof routes)[N]> } = {
  getSession: () => ({}),
  createOwner: () => ({ body: { name: 'Nobody', password, token: 'x' } }),
  signIn: () => ({ body: { name: 'Ines Marlow', password } }),
  signInByLink: () => ({ body: { token: 'x' } }),
  signOut: () => ({}),
  createSignInLink: () => ({}),
  changePreferences: () => ({ body: { theme: 'dark' } }),
  changePassword: () => ({ body: { password } }),
  listSessions: () => ({}),
  endSession: ({ own }) => ({ params: own }),
  leave: () => ({}),
  leaveSite: ({ siteId }) => ({ params: { siteId } }),
  listPeople: () => ({}),
  changeAccess: ({ personId, siteId }) => ({
    params: { personId },
    body: { everywhere: null, sites: [{ siteId, role: 'operator' }] },
  }),
  removePerson: ({ personId }) => ({ params: { personId } }),
  createSignInLinkFor: ({ personId }) => ({ params: { personId } }),
  listInvitations: () => ({}),
  createInvitation: ({ siteId }) => ({ body: { role: 'owner', siteIds: [siteId] } }),
  withdrawInvitation: ({ invitationId }) => ({ params: { invitationId } }),
  readInvitation: ({ invitationToken: token }) => ({ body: { token } }),
  acceptInvitation: ({ invitationToken: token }) => ({
    body: { token, person: { name: fresh(), password } },
  }),
  listTokens: () => ({}),
  createToken: () => ({
    body: { name: 'Script', scopes: ['read'], siteIds: null, devices: [], expiresAt: null },
  }),
  withdrawToken: ({ own }) => ({ params: own }),
  getMapTiles: () => ({}),
  listSites: () => ({}),
  createSite: () => ({ body: { name: fresh(), timeZone: 'UTC' } }),
  changeSite: ({ siteId }) => ({ params: { siteId }, body: { timeZone: 'Europe/Dublin' } }),
  deleteSite: ({ siteId }) => ({ params: { siteId } }),
  getSiteDay: ({ siteId }) => ({ params: { siteId }, query: { to: Date.now() } }),
  listKits: () => ({}),
  getKit: ({ kitId }) => ({ params: { kitId } }),
  createKit: () => ({ body: { name: fresh(), cadence: null, signals: [] } }),
  changeKit: ({ kitId }) => ({ params: { kitId }, body: { cadence: { by: 'always', seconds: 9 } } }),
  deleteKit: ({ kitId }) => ({ params: { kitId } }),
  addSignalDefinition: ({ kitId }) => ({
    params: { kitId },
    body: { field: '/more', name: 'More', kind: 'number' },
  }),
  listDevices: () => ({}),
  getDevice: ({ address }) => ({ params: { address } }),
  createDevice: ({ siteId }) => ({ body: { name: 'Another', address: fresh(), siteId } }),
  changeDevice: ({ address }) => ({ params: { address }, body: { name: 'Renamed' } }),
  getDeviceLoss: ({ address }) => ({ params: { address } }),
  deleteDevice: ({ address }) => ({ params: { address } }),
  replaceSecret: ({ address }) => ({ params: { address } }),
  listShareLinks: ({ address }) => ({ params: { address } }),
  createShareLink: ({ address }) => ({ params: { address }, body: share }),
  withdrawShareLink: ({ linkId }) => ({ params: { linkId } }),
  getSharedPage: ({ linkToken: token }) => ({ params: { token } }),
  getSharedTraces: ({ linkToken: token, signalId }) => ({
    params: { token },
    query: { signals: String(signalId), ...span, columns: 100 },
  }),
  getSharedTotals: ({ linkToken: token, signalId }) => ({
    params: { token },
    query: { signals: String(signalId), ...span, by: 'day' },
  }),
  getSharedLastReadings: ({ linkToken: token, signalId }) => ({
    params: { token },
    query: { signals: String(signalId), ...span, most: 20 },
  }),
  getPaper: ({ pageToken: token }) => ({ params: { token }, query: { width: 400, height: 300, greys: 2 } }),
  changeSignalDefinition: ({ definitionId }) => ({ params: { definitionId }, body: { name: 'Otherwise' } }),
  explainValue: ({ signalId }) => ({ params: { signalId }, query: { at: Date.now() + 60_000 } }),
  previewRecomputation: ({ signalId }) => ({ params: { signalId }, query: span }),
  listRecomputations: ({ signalId }) => ({ params: { signalId } }),
  createRecomputation: ({ signalId }) => ({ params: { signalId }, body: span }),
  undoRecomputation: ({ signalId, recomputationId }) => ({ params: { signalId, recomputationId } }),
  changeDoubt: ({ signalId }) => ({ params: { signalId }, body: { why: 'its cable is loose' } }),
  tryConversion: ({ signalId }) => ({ params: { signalId }, body: { conversion: 'x * 2' } }),
  pauseSerialPort: ({ address }) => ({ params: { address }, body: { seconds: 0 } }),
  replaceHardware: ({ address }) => ({ params: { address }, body: { endCalibrations: true } }),
  previewKitExchange: ({ address, emptyKit }) => ({ params: { address, kitId: emptyKit } }),
  exchangeKit: ({ address, emptyKit }) => ({ params: { address, kitId: emptyKit } }),
  proposeFaults: ({ signalId }) => ({ params: { signalId } }),
  tryDerivation: ({ address, signalId }) => ({
    params: { address },
    body: {
      derivation: {
        formula: 'a',
        inputs: [{ name: 'a', of: { signal: signalId }, take: { by: 'last' }, ageLimit: 60 }],
      },
    },
  }),
  changeOwnSettings: ({ signalId }) => ({ params: { signalId }, body: { set: { decimals: 1 } } }),
  listDescriptionVersions: ({ signalId }) => ({ params: { signalId } }),
  listCalibrations: ({ signalId }) => ({ params: { signalId } }),
  addCalibration: ({ signalId }) => ({
    params: { signalId },
    body: { gain: 1, offset: 0.1, validFrom: 0, evidence: 'ice water' },
  }),
  takeBackCalibration: ({ calibrationId }) => ({ params: { calibrationId } }),
  followReadings: ({ signalId }) => ({ query: { signals: String(signalId) } }),
  getTraces: ({ signalId }) => ({ query: { signals: String(signalId), ...span, columns: 100 } }),
  getTotals: ({ signalId }) => ({ query: { signals: String(signalId), ...span, by: 'day' } }),
  getReadingsAt: ({ signalId }) => ({ query: { signals: String(signalId), at: Date.now() } }),
  getLastReadings: ({ signalId }) => ({ query: { signals: String(signalId), ...span, most: 20 } }),
  getDescriptionsAt: ({ signalId }) => ({ query: { signals: String(signalId), at: Date.now() } }),
  listEvents: () => ({ query: span }),
  getReach: () => ({}),
  requestCommands: ({ signalId }) => ({ body: { signals: [signalId], value: 1 } }),
  listCommands: () => ({ query: { open: true } }),
  listRules: () => ({}),
  createRule: ({ relayId, signalId }) => ({ params: { signalId: relayId }, body: rule(signalId) }),
  changeRule: ({ ruleId, signalId }) => ({ params: { ruleId }, body: rule(signalId) }),
  deleteRule: ({ ruleId }) => ({ params: { ruleId } }),
  switchRule: ({ ruleId }) => ({ params: { ruleId }, body: { mode: 'trial' } }),
  listRuleActs: ({ ruleId }) => ({ params: { ruleId } }),
  orderRules: ({ relayId, ruleId }) => ({
    params: { signalId: relayId },
    body: { order: [ruleId], handFor: 60 },
  }),
  resumeRules: ({ relayId }) => ({ params: { signalId: relayId } }),
  tryRule: ({ relayId, signalId }) => ({
    params: { signalId: relayId },
    body: { rule: rule(signalId).rule, ...span },
  }),
  createNote: ({ siteId, signalId }) => ({ body: { says: 'washed down', at: Date.now(), siteId, signalId } }),
  deleteNote: ({ eventId }) => ({ params: { eventId } }),
  listAlarms: () => ({}),
  getAlarmRecord: () => ({ query: { days: 30 } }),
  getAlarm: ({ signalId }) => ({ params: { alarmId: `${signalId}.silence` } }),
  listAlarmActs: ({ signalId }) => ({ params: { alarmId: `${signalId}.silence` } }),
  moveAlarms: ({ signalId }) => ({ body: { alarms: [`${signalId}.silence`], move: 'acknowledge' } }),
  tryAlarm: ({ signalId }) => ({
    params: { signalId },
    body: { occasion: silence.occasion, unless: null, limits: null, ...span },
  }),
  testBuzzer: ({ address }) => ({ params: { address } }),
  testWalls: ({ siteId }) => ({ params: { siteId } }),
  listWays: () => ({}),
  getPushKey: () => ({}),
  createWay: ({ siteId }) => ({ body: { siteId, kind: 'webhook', ...wayShown } }),
  changeWay: ({ wayId }) => ({ params: { wayId }, body: wayShown }),
  deleteWay: ({ wayId }) => ({ params: { wayId } }),
  testWay: ({ wayId }) => ({ params: { wayId } }),
  listNotices: () => ({}),
  readSeenLink: () => ({ body: { token: newToken() } }),
  useSeenLink: () => ({ body: { token: newToken() } }),
  listDashboards: () => ({}),
  getDashboard: ({ dashboardId }) => ({ params: { dashboardId } }),
  createDashboard: ({ siteId }) => ({ body: { siteId, ...pageShown } }),
  publishDashboard: ({ dashboardId }) => ({ params: { dashboardId }, body: { basedOn: 1, ...pageShown } }),
  deleteDashboard: ({ dashboardId }) => ({ params: { dashboardId } }),
  listDashboardVersions: ({ dashboardId }) => ({ params: { dashboardId } }),
  listDashboardLinks: ({ dashboardId }) => ({ params: { dashboardId } }),
  createDashboardLink: ({ dashboardId }) => ({
    params: { dashboardId },
    body: { name: 'For all', instrumentId: null, past: 'day', frameAncestors: [], expiresAt: null },
  }),
  listArrivals: () => ({}),
  getArrival: ({ arrivalId, deviceId }) => ({ params: { arrivalId }, query: { deviceId } }),
  tryMessage: ({ address }) => ({
    body: { address, door: 'http', mediaType: 'application/json', tail: '', topic: '', text: '{"t":1}' },
  }),
  listUnclaimed: () => ({}),
  listClaims: () => ({}),
  createClaim: ({ deviceId }) => ({ body: claimOf(deviceId, ++count) }),
  deleteClaim: ({ claimId }) => ({ params: { claimId } }),
  previewRereading: ({ address }) => ({ params: { address } }),
  listRereadings: ({ address }) => ({ params: { address } }),
  createRereading: ({ address }) => ({ params: { address }, body: { upTo: 0 } }),
  undoRereading: ({ rereadingId }) => ({ params: { rereadingId } }),
  importFile: ({ address }) => ({
    params: { address },
    body: { mediaType: 'text/csv', text: 'time,t\n2026-01-01T00:00:00Z,4\n' },
  }),
  storeFile: ({ address }) => ({ params: { address }, query: {} }),
  listSerialPorts: () => ({}),
  setSerialPort: ({ address }) => ({
    params: { address },
    body: { path: `/dev/${address}`, speed: 9600, csvHeader: null },
  }),
  removeSerialPort: ({ address }) => ({ params: { address } }),
  getCapacity: () => ({}),
  measureCapacity: () => ({}),
  getCondition: () => ({}),
  confirmClock: () => ({}),
}

/** Some have to be cleared of what else stands on them before they can be deleted. */
const before: Partial<Record<Name, (on: Omit<Stage, 'own'>) => Promise<unknown>>> = {
  deleteSite: ({ address }) => root.call(routes.deleteDevice, { params: { address } }),
  deleteKit: ({ address }) => root.call(routes.deleteDevice, { params: { address } }),
  pauseSerialPort: ({ address }) =>
    root.call(routes.setSerialPort, {
      params: { address },
      body: { path: `/dev/${address}`, speed: 9600, csvHeader: null },
    }),
}

/** A person or a program that may what is said, made in the database: coming in by the doors has tests of its own. */
async function make({ role, at, by }: Who, on: Omit<Stage, 'own'>, what: Name) {
  const [token, csrfToken] = [newToken(), newToken()]
  const personId = await one(`insert into person (name, password_hash) values ($1, '') returning id`, [
    fresh(),
  ])
  const access = by === 'token' ? { role: 'owner', at: 'all' } : { role, at }
  if (access.role !== null)
    await sql.query('insert into membership (person_id, site_id, role) values ($1, $2, $3)', [
      personId,
      access.at === 'all' ? null : firstSite,
      access.role,
    ])
  // Everybody can give something up at the site in question, and is nobody's equal there by that.
  if (
    by === 'session' &&
    what === 'leaveSite' &&
    !(role !== null && at === 'first' && firstSite === on.siteId)
  )
    await sql.query(`insert into membership (person_id, site_id, role) values ($1, $2, 'viewer')`, [
      personId,
      on.siteId,
    ])
  const sessionId = await one(
    `insert into session (token_hash, person_id, csrf_token, expires_at, by_link)
     values ($1, $2, $3, now() + interval '1 day', true) returning id`,
    [hashToken(token), personId, csrfToken],
  )
  const programToken = newToken()
  const tokenId = await one(
    `insert into program_token (token_hash, name, person_id, scopes, site_ids)
     values ($1, 'Script', $2, $3, $4) returning id`,
    [
      hashToken(programToken),
      personId,
      [role === null ? 'send' : scopeOf[role]],
      at === 'all' ? null : [firstSite],
    ],
  )
  const person = new TestPerson(server.url)
  if (by === 'session') {
    person.cookie = `sparrow_session=${token}`
    person.csrfToken = csrfToken
  }
  const headers: Record<string, string> = by === 'token' ? { Authorization: `Bearer ${programToken}` } : {}
  return { person, headers, own: { sessionId, tokenId } }
}

let firstSite: number

async function ask(
  { person, headers }: Awaited<ReturnType<typeof make>>,
  name: Name,
  on: Stage,
): Promise<Pick<Answer, 'status' | 'body'>> {
  const asked = requests[name](on) as Asked<Route>
  if (name === 'storeFile') {
    const answer = await fetch(`${server.url}/api/devices/${on.address}/file`, {
      method: 'PUT',
      headers: {
        'X-CSRF-Token': person.csrfToken,
        Cookie: person.cookie,
        ...headers,
        'Content-Type': 'text/csv',
      },
      body: 'time,t\n2026-01-01T00:00:00Z,4\n',
    })
    return { status: answer.status, body: await answer.json() }
  }
  if (name === 'followReadings') {
    const answer = await fetch(`${server.url}/api/live?signals=${on.signalId}`, {
      headers: { Cookie: person.cookie, ...headers },
    })
    await answer.body?.cancel()
    return { status: answer.status, body: undefined }
  }
  return person.call(routes[name] as Route, asked, headers)
}

/** The ones that answer otherwise to everybody here, and have tests of their own. */
const special: Name[] = ['createOwner', 'signInByLink', 'readSeenLink', 'useSeenLink']

it('names every route', () => {
  expect(needs.map(({ name }) => name).sort()).toEqual(Object.keys(routes).sort())
})

/** Who may go first: what they do may use up what stands there. */
const changesThings = ({ role, name }: Need): boolean =>
  name === 'acceptInvitation' || (role === 'owner' && (routes[name] as Route).method !== 'get')

describe.each(['first', 'second'] as const)('at the %s site', (site) => {
  let on: Omit<Stage, 'own'>
  let other: Omit<Stage, 'own'>
  beforeAll(async () => {
    on = await stage()
    other = await stage()
  })

  it.each(needs.filter(({ name }) => !special.includes(name)))(
    '$name needs the role of $role $where',
    async (need) => {
      const route: Route = routes[need.name]
      const wrong: string[] = []
      const [refused, allowed] = partition(all, (who) => !mayDo(who, need, site))
      for (const who of [...refused, ...allowed]) {
        const may = allowed.includes(who)
        if (may && changesThings(need)) on = await stage()
        // Whoever has a role at "the first site" has it at this one, or at another one.
        firstSite = site === 'first' ? on.siteId : other.siteId
        if (may) await before[need.name]?.(on)
        const maker = await make(who, on, need.name)
        const { status, body } = await ask(maker, need.name, { ...on, own: maker.own })
        const said = `${who.by} ${who.role} at ${who.at}: ${status} ${JSON.stringify(body)?.slice(0, 150)}`
        if (may ? status !== route.status : ![401, 403, 404].includes(status)) wrong.push(said)
      }
      if (changesThings(need)) on = await stage()
      expect(wrong).toEqual([])
    },
    60_000,
  )
})
