import type { Command, Reach } from '@jaunty-sparrow/contract'
import { arrivalsToLearnFrom } from '@jaunty-sparrow/core/device'
import type { Reading } from '@jaunty-sparrow/core/signal'
import { pino } from 'pino'
import { openAlarms } from './alarms/openAlarms.ts'
import { createApplication } from './application.ts'
import { TakingUp } from './claims/takingUp.ts'
import { Commands } from './commands/commands.ts'
import { confirmCommands } from './commands/confirmCommands.ts'
import { lastBackup } from './condition/lastBackup.ts'
import { Storage } from './condition/storage.ts'
import type { Config } from './config.ts'
import { carryOutConverting } from './devices/convertReadings.ts'
import { DeviceRegistry } from './devices/deviceRegistry.ts'
import { Drops } from './devices/drops.ts'
import { endFormerSecrets } from './devices/endFormerSecrets.ts'
import { Throttle } from './devices/throttle.ts'
import type { DoorKit } from './doors/doorKit.ts'
import { httpDoor, isForDoor } from './doors/httpDoor.ts'
import type { MqttDoor } from './doors/mqttDoor.ts'
import type { SerialDoor } from './doors/serialDoor.ts'
import { EventStore } from './events/eventStore.ts'
import { followCommits } from './followCommits.ts'
import { refuseUnencrypted } from './http/plainFromElsewhere.ts'
import { ByteBudget } from './ingest/byteBudget.ts'
import { Decoding } from './ingest/decoding.ts'
import { GroupCommit } from './ingest/groupCommit.ts'
import type { Listener } from './ingest/listener.ts'
import { resumeThinning } from './ingest/resumeThinning.ts'
import { StraightWay } from './ingest/straightWay.ts'
import { Thinning } from './ingest/thinning.ts'
import { ClockTrust } from './life/clockTrust.ts'
import { Faults } from './life/faults.ts'
import { Heartbeat } from './life/heartbeat.ts'
import { Opened } from './life/opened.ts'
import { type InTheWay, nothingInTheWay, Readiness } from './life/readiness.ts'
import { LiveHub } from './live/hub.ts'
import { joinPeers } from './live/joinPeers.ts'
import { aheadBy, LatestReadings } from './live/latestReadings.ts'
import { LiveSocketServer } from './live/socketServer.ts'
import { firstNumberAt, MessageNumbers } from './messages/keptMessage.ts'
import { MessageStore } from './messages/messageStore.ts'
import { RefusalRecorder } from './messages/recorder.ts'
import { type Notices, openNotices } from './notices/openNotices.ts'
import { openDoors } from './openDoors.ts'
import { hasOwner } from './people/hasOwner.ts'
import { SitesOfThings } from './people/places.ts'
import { ProgramTokens } from './people/programTokens.ts'
import { SessionKeeper } from './people/sessionKeeper.ts'
import { openPresence } from './presence/openPresence.ts'
import type { PresenceKeeper } from './presence/presenceKeeper.ts'
import { readHeard } from './presence/readHeard.ts'
import { openReach } from './reach/openReach.ts'
import { LargeChanges } from './readings/largeChanges.ts'
import { ReadingChanges } from './readings/readingChanges.ts'
import { ReadingPartitions } from './readings/readingPartitions.ts'
import { ReadingStore } from './readings/readingStore.ts'
import { carryOutRecomputing } from './recompute/recomputing.ts'
import { ReadingAgain } from './rereading/readingAgain.ts'
import { RereadingStore } from './rereading/rereadingStore.ts'
import { HistoryReader } from './rollups/historyReader.ts'
import { openRules } from './rules/openRules.ts'
import { newToken } from './secrets/token.ts'
import { ShareLinks } from './share/shareLinks.ts'
import { migrateDatabase, openDatabase } from './store/database.ts'
import { ServerNumber } from './store/serverNumber.ts'
import { DayReader } from './strip/dayReader.ts'
import { TotalsReader } from './totals/totalsReader.ts'
import { TraceReader } from './traces/traceReader.ts'
import { WebServers } from './webServers.ts'

export interface RunningServer {
  /** Where it listens, such as `http://127.0.0.1:7600`. */
  readonly url: string
  /** Where it listens for HTTPS; undefined where it has no certificate. */
  readonly secureUrl: string | undefined
  /** By which addresses it is reached. */
  readonly reach: Reach
  /** Where it listens for MQTT; undefined when the usual port was taken. */
  readonly mqttPort: number | undefined
  /** The same over TLS. */
  readonly mqttTlsPort: number | undefined
  /** Where it listens for CoAP; undefined when it does not. */
  readonly coapPort: number | undefined
  /** What creates the owner; undefined when there is one. It is for the eyes of who started this. */
  readonly firstRunToken: string | undefined
  /** What goes wrong where nobody foresaw it is told here. */
  readonly faults: Faults
  readonly close: () => Promise<void>
}

interface Surroundings {
  readonly webRoot: string | undefined
  readonly now: () => number
}

const minute = 60_000
const sixHours = 6 * 60 * minute
const day = 24 * 60 * minute

/**
 * Puts the parts together and starts to listen. What was opened is closed again in reverse, when the server stops as well as
 * when it cannot start.
 */
export async function startServer(config: Config, surroundings: Surroundings): Promise<RunningServer> {
  const opened = new Opened()
  try {
    return await open(config, surroundings, opened)
  } catch (error) {
    await opened.close()
    throw error
  }
}

async function open(config: Config, { webRoot, now }: Surroundings, opened: Opened): Promise<RunningServer> {
  const steady = () => performance.now()
  const log = pino({
    level: config.logLevel,
    redact: ['*.authorization', '*.cookie', 'req.headers.authorization', 'req.headers.cookie'],
  })
  const faults = new Faults(log, now)
  const every = (ms: number, what: string, work: () => Promise<unknown>) =>
    opened.add(setInterval(faults.guard(what, work), ms), clearInterval)

  const reached = openReach({ config, opened, now, log })
  const { ipOf, certificates, reach, hosts, isForbidden } = reached
  await migrateDatabase(config.databaseUrl)
  const serverNumber = opened.add(await ServerNumber.take(config.databaseUrl, log), (it) => it.release())
  const database = opened.add(openDatabase(config.databaseUrl, log), (it) => it.$client.end())
  const store = new ReadingStore(database.$client)
  const messages = new MessageStore(database.$client)
  const heartbeat = new Heartbeat(database.$client, config.serverName)
  const partitions = new ReadingPartitions(database.$client)
  const large = new LargeChanges(database, log)
  const changes = new ReadingChanges(database, partitions, large)
  carryOutRecomputing(large, changes)
  carryOutConverting(large, changes)
  const rereadings = new RereadingStore(database.$client)
  const days = new DayReader(database.$client)
  const history = new HistoryReader(database.$client)
  await partitions.prepare(now())

  const registry = new DeviceRegistry(database)
  const sites = new SitesOfThings(database, registry)
  const events = new EventStore(database, sites)
  const hub = new LiveHub({ clock: steady, outward: registry.calibrations.outward })
  events.onWritten((event) => hub.event(event))
  const latest = new LatestReadings(now)
  registry.listensTo(latest)
  const readLatest = () => store.latest(now() + aheadBy)
  const reread = async () => {
    await latest.reread(readLatest)
    hub.devicesChanged()
  }
  let live: LiveSocketServer | undefined
  // Set when it is known what is remembered; until then nobody comes in.
  let presence: PresenceKeeper | undefined
  let serial: SerialDoor | undefined
  let mqtt: MqttDoor | undefined
  const commands = new Commands({ database, registry, latest, events, now })
  /** What waits goes out by whichever server its device is connected to. */
  const sendWaiting = (changed: readonly Command[]) => {
    for (const { deviceId, state } of changed)
      if (state === 'requested') {
        mqtt?.sendCommands(registry.byId(deviceId)?.address ?? '')
        serial?.sendCommands(deviceId)
      }
  }
  const rules = openRules({ pool: database.$client, registry, commands, latest, hub, now })
  const drops = new Drops()
  // Set when it is known what follows commits.
  let guardSoon: (() => void) | undefined
  let notices: Notices | undefined
  let backedUpAt: number | null = null
  let inTheWay: InTheWay = nothingInTheWay
  const alarms = await openAlarms({
    pool: database.$client,
    registry,
    inputs: rules.inputs,
    latest,
    events,
    hub,
    presenceOf: (signal) => presence?.ofSignal(signal),
    conditions: {
      inTheWay: () => inTheWay,
      droppedAt: ({ id }) => drops.of(id)?.lastAt ?? null,
      isNoticeFailing: () => notices?.isFailing() ?? false,
      backedUpAt: () => backedUpAt,
      isSilent: (device) => presence?.of(device).presence === 'silent',
      now,
    },
    now,
  })
  const told = openNotices({
    pool: database.$client,
    config,
    opened,
    alarmBook: alarms.book,
    definitionOf: (signal) => registry.signal(signal)?.signal.definition,
    hub,
    origin: () => reach.told().people.url,
    now,
    chance: Math.random,
  })
  notices = told
  const tellPeople = () =>
    told.run().catch((error: unknown) => log.warn({ err: error }, 'people wait to be told of alarms'))
  commands.onChanged((changed) => {
    hub.commands(changed)
    sendWaiting(changed)
    presence?.shutDown(commands.shutDownsAmong(changed))
  })
  const peers = opened.add(
    await joinPeers({
      url: config.databaseUrl,
      pool: database.$client,
      number: () => serverNumber.value,
      log,
      faults,
      registry,
      hub,
      latest,
      readLatest,
      reread,
      serialChanged: async () => serial?.look(),
      accessChanged: () => live?.lookAgain(),
      elsewhere: {
        readings: (readings) => {
          presence?.heardElsewhere(readings)
          guardSoon?.()
        },
        alarms: () => alarms.guards.mark(),
        alarmTest: alarms.testElsewhere,
        commands: (changed) => {
          commands.watch(changed)
          sendWaiting(changed)
          presence?.shutDown(commands.shutDownsAmong(changed))
        },
        arrived: (arrivals) => {
          for (const { deviceId, receivedAt, byHand } of arrivals)
            if (deviceId !== null && !byHand) presence?.heard(deviceId, receivedAt)
        },
      },
    }),
    (it) => it.close(),
  )
  const known = Array.from(registry.all(), ({ id }) => id)
  const newestId = await messages.newest(0, ...known)
  const clock = await ClockTrust.open({
    heartbeat,
    now,
    steady,
    newestMessage: Math.floor(newestId / firstNumberAt(1)),
    log,
  })
  every(minute, 'looking at the clocks', () =>
    clock.look().catch((error: unknown) => log.warn({ err: error }, 'the clocks could not be compared')),
  )
  const readiness = new Readiness({ heartbeat, clock, dataFolder: config.databaseFolder, steady })
  every(10_000, 'looking what is in the way', async () => {
    inTheWay = await readiness.inTheWay()
    backedUpAt = await lastBackup(database.$client)
  })
  const endSecrets = () => endFormerSecrets(database, registry, now())
  // What ended while no server ran is not good for another minute.
  await endSecrets()
  every(minute, 'ending former secrets', endSecrets)
  const tidy = async () => {
    await partitions.prepare(now())
    // A clock that is wrong would drop what is still wanted.
    if (clock.doubt) return
    const longAgo = now() - config.messageDays * day
    await partitions.dropMessagesBefore(longAgo)
    await rereadings.dropBefore(longAgo)
    await large.dropBefore(longAgo)
    await days.forgetBefore(now() - 90 * day)
    await rules.forgetBefore(now() - 90 * day)
    await alarms.forgetBefore(now() - 400 * day)
    await told.forgetBefore(now() - 90 * day)
  }
  await tidy()
  clock.onConfirmed(faults.guard('tidying', tidy))
  every(sixHours, 'tidying', () =>
    tidy().catch((error: unknown) => log.warn({ err: error }, 'nothing could be tidied')),
  )
  const rereadEverywhere = async () => {
    await reread()
    peers.tell({ kind: 'reread' })
  }
  const { follow, guard } = await followCommits({
    pool: database.$client,
    now,
    log,
    every,
    opened,
    changes,
    confirm: confirmCommands({
      now,
      stepOf: commands.stepOf,
      readings: store,
      changed: (changed) => commands.tell(changed),
    }),
    rules,
    alarms,
    told: (readings) => {
      latest.take(readings)
      // Nobody was heard: no board said it.
      hub.readings(readings, true)
    },
    pastChanged: rereadEverywhere,
  })
  guardSoon = guard
  const lastArrivals = await messages.lastArrivals(arrivalsToLearnFrom)
  registry.recall(lastArrivals)
  const keeper = await openPresence({
    registry,
    heard: await readHeard(database.$client),
    down: await commands.shutDowns(),
    latest,
    lastArrivals,
    heartbeat,
    events,
    hub,
    faults,
    serverName: config.serverName,
    now,
    opened,
  })
  presence = keeper
  const listener: Listener = {
    readings: (readings, byHand) => {
      clock.heard(readings)
      latest.take(readings)
      if (!byHand) keeper.heardReadings(readings)
      hub.readings(readings, byHand)
      guard()
      if (!byHand) faults.watch('what was commanded', commands.heard(readings))
    },
    arrived: (message) => {
      const { deviceId, receivedAt, byHand } = message
      if (deviceId !== null && !byHand) keeper.heard(deviceId, receivedAt)
      hub.arrived(message)
    },
    deviceChanged: (address) => hub.deviceChanged(address),
  }
  const thinning = new Thinning(() => registry.thinned(), changes.append)
  const decoding = opened.add(new Decoding(10_000), (it) => it.close())
  await resumeThinning({ registry, messages, thinning, decoding })
  every(1000, 'thinning', () =>
    thinning
      .closeIntervals(now())
      .catch((error: unknown) => log.warn({ err: error }, 'thinned readings wait: they could not be stored')),
  )
  const commit = opened.add(new GroupCommit(thinning.write), (it) => it.settled())
  const { next: number } = new MessageNumbers(newestId, () => serverNumber.value)
  const recorder = opened.add(
    new RefusalRecorder({
      number,
      write: (refused) => changes.append([], refused),
      tell: (message) => listener.arrived(message),
      log,
    }),
    (it) => it.flush(),
  )
  const straightWay = new StraightWay({
    registry,
    commit,
    decoding,
    listener,
    recorder,
    throttle: new Throttle(steady),
    drops,
    faults,
    number,
    numbering: serverNumber,
    correct: (message) => messages.correct(message),
    monthsBegun: (readings: readonly Reading[]) => partitions.monthsBegun(readings),
    lastOf: latest.of,
    isClockDoubted: () => clock.doubt !== null,
    newestKnown: () => clock.newestKnown(),
  })
  const sessions = new SessionKeeper(database, now)
  // Closed after what was opened through it, which it would wait for.
  const web = opened.add(new WebServers({ certificates, faults, log }), (it) => it.close())
  const programs = new ProgramTokens(database, now)
  const links = new ShareLinks(database, registry, now)
  const pages = opened.add(
    new LiveSocketServer({
      hub,
      sessions,
      links,
      sites,
      latest: latest.of,
      presences: keeper.all,
      ipOf,
      now,
      faults,
    }),
    (it) => it.close(),
  )
  live = pages

  const kit: DoorKit = {
    registry,
    straightWay,
    recorder,
    drops,
    faults,
    budget: new ByteBudget(),
    now,
    log,
  }
  const doors = await openDoors({
    kit,
    commands,
    guards: alarms.guards,
    config,
    database,
    opened,
    certificates,
    reachedFrom: (ip) => reach.reachedFrom(ip),
    lineChanged: (deviceId) => {
      const known = registry.byId(deviceId)
      if (known) hub.deviceChanged(known.address)
    },
    linesChanged: () => peers.tell({ kind: 'serial' }),
  })
  serial = doors.serial
  mqtt = doors.mqtt
  every(minute, 'a word down the cables', async () => serial?.greet())
  await commands.resume()
  every(1000, 'telling people', tellPeople)
  every(1000, 'ending commands', () =>
    commands.endOverdue().catch((error: unknown) => log.warn({ err: error }, 'commands wait to be ended')),
  )
  const readingAgain = new ReadingAgain({
    database,
    registry,
    messages,
    readings: store,
    changes,
    large,
    rereadings,
    decoding,
  })
  faults.watch('a change that was interrupted', large.resume().then(reread))
  const firstRunToken = newToken()
  const application = createApplication({
    firstRunToken,
    ...doors,
    messages,
    straightWay,
    decoding,
    recorder,
    rereadings,
    readingAgain,
    large,
    reread: rereadEverywhere,
    traces: new TraceReader(history),
    totals: new TotalsReader(history),
    days,
    takingUp: new TakingUp({ registry, straightWay, changes, messages, listener }),
    changes,
    events,
    commands,
    ruleBook: rules.book,
    ruleInputs: rules.inputs,
    alarmBook: alarms.book,
    boardGuards: alarms.guards,
    alarmTests: alarms.tests,
    testAlarm: alarms.test,
    ...told,
    noticesChanged: () => {
      hub.noticesChanged()
      void tellPeople()
    },
    rulesChanged: () => {
      hub.rulesChanged()
      follow()
    },
    latest,
    presences: keeper,
    readiness,
    ...reached,
    trustProxy: config.trustProxy,
    tiles: config.mapTiles === undefined ? null : { address: config.mapTiles, credit: config.mapCredit },
    storage: new Storage({
      pool: database.$client,
      dataFolder: config.databaseFolder,
      messageDays: config.messageDays,
    }),
    serverName: config.serverName,
    startedAt: now(),
    clock,
    faults,
    drops,
    database,
    registry,
    commit,
    store,
    hub,
    sessions,
    programs,
    places: sites,
    links,
    lookingOn: (link) => pages.lookingOn(link),
    accessChanged: () => {
      pages.lookAgain()
      peers.tell({ kind: 'access' })
    },
    log,
    now,
    webRoot,
  })
  const http = httpDoor({ ...kit, programs, commands, guards: alarms.guards })
  web.answer(
    (request, response) => {
      reach.reachedFrom(ipOf(request))
      if (isForDoor(request) && isForbidden(request)) refuseUnencrypted(response, reach.told())
      else if (isForDoor(request)) http(request, response)
      else application(request, response)
    },
    (request, socket, head) => {
      if (isForbidden(request)) return socket.destroy()
      if (/^\/live(?:\?|$)/.test(request.url ?? '') && hosts.allows(request))
        return pages.upgrade(request, socket, head)
      if (request.url === '/mqtt' && doors.mqtt) return doors.mqtt.upgrade(request, socket, head)
      socket.destroy()
    },
  )
  const listening = await web.listen(config)
  reach.listensAt({
    http: Number(listening.http.port),
    https: listening.https && Number(listening.https.port),
    mqtt: doors.mqttPort,
    mqttTls: doors.mqttTlsPort,
    coap: doors.coapPort,
  })
  return {
    url: listening.http.origin,
    secureUrl: listening.https?.origin,
    reach: reach.told(),
    mqttPort: doors.mqttPort,
    mqttTlsPort: doors.mqttTlsPort,
    coapPort: doors.coapPort,
    firstRunToken: (await hasOwner(database)) ? undefined : firstRunToken,
    faults,
    close: () => opened.close(),
  }
}
