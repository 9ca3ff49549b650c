import type { Command } from '@jaunty-sparrow/contract'
import {
  type Answer,
  type Circumstances,
  type Happening,
  isOpen,
  whyNot,
  wireName,
  wishProblem,
} from '@jaunty-sparrow/core/command'
import {
  type DeviceSignal,
  fieldOfPart,
  formatValue,
  hasParts,
  hasQuality,
  Quality,
  type Reading,
  type SignalValue,
  secondsOf,
  usualControl,
} from '@jaunty-sparrow/core/signal'
import { and, eq, gt, gte, inArray, lt, sql } from 'drizzle-orm'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import type { RegisteredDevice } from '../devices/registeredDevice.ts'
import type { EventStore } from '../events/eventStore.ts'
import type { Caller } from '../http/session.ts'
import type { Database } from '../store/database.ts'
import { command, reading, signal as signalTable } from '../store/schema.ts'
import {
  type CommandTable,
  happened,
  lastConfirmed,
  lockOpenCommands,
  openCommands,
  sentSince,
  told,
} from './commandStore.ts'

const hour = 3_600_000
/** How long a command is valid where nobody has said, s: so often as the device speaks, within these. */
const shortest = 30
const longest = 86_400
/** What a signal said longer ago than this, s, or twice as long as it usually takes, forbids and allows nothing. */
const reliable = 600

export interface CommandParts {
  readonly database: Database
  readonly registry: DeviceRegistry
  readonly latest: { of(signal: number): Reading | undefined }
  readonly events: Pick<EventStore, 'write'>
  readonly now: () => number
}

/** A command as a door sends it. */
export interface WaitingCommand {
  readonly command: Command
  readonly signal: DeviceSignal
  /** What it is called on the wire. */
  readonly name: string
}

/** Who asks: a person, or a program in the name of one; or a rule, once in each of its turns. */
export type Asker = Pick<Caller, 'person' | 'token'> | { readonly rule: string; readonly turn: number }

/** What came of a wish. */
export type Wished =
  | { readonly command: Command; readonly refused: null }
  | { readonly command: null; readonly refused: string }

/** Requests to controlled signals, from the wish to what the device reports. All of it is in the database. */
export class Commands {
  readonly #parts: CommandParts
  /** The signals that something is asked of just now, as far as it is known here. */
  readonly #watched = new Set<number>()
  readonly #listeners: ((changed: readonly Command[]) => void)[] = []

  constructor(parts: CommandParts) {
    this.#parts = parts
  }

  /** Calls back with commands that are otherwise than they were, also with those that wait to be sent. */
  onChanged(listener: (changed: readonly Command[]) => void): void {
    this.#listeners.push(listener)
  }

  /** Tells those that something follows for. */
  tell(changed: readonly Command[]): void {
    this.watch(changed)
    if (changed.length > 0) for (const listener of this.#listeners) listener(changed)
  }

  /** Looks from now on at what devices report of signals that something is asked of. */
  watch(commands: readonly Command[]): void {
    for (const { signalId, state } of commands)
      if (isOpen(state)) this.#watched.add(signalId)
      else this.#watched.delete(signalId)
  }

  /** What was open when the server started. */
  async resume(): Promise<void> {
    this.watch((await openCommands(this.#parts.database)).map(told))
  }

  /**
   * Sees in what was just committed whether devices did what was asked, without waiting for those that follow commits: they see it
   * too, should this server end before.
   */
  async heard(readings: readonly Reading[]): Promise<void> {
    const reports = readings.filter(({ signal }) => this.#watched.has(signal))
    if (reports.length === 0) return
    const { database, now } = this.#parts
    const rows = await openCommands(
      database,
      inArray(
        command.signalId,
        reports.map(({ signal }) => signal),
      ),
    )
    const happenings = ({ signalId }: (typeof rows)[number]): Happening[] =>
      reports.flatMap(({ signal, at, value }) => (signal === signalId ? { kind: 'report', at, value } : []))
    this.tell(await happened(database, rows, happenings, now(), this.stepOf))
  }

  /** The devices that confirmed to shut down, of some commands, with when, epoch ms. */
  shutDownsAmong(commands: readonly Command[]): Map<number, number> {
    const { registry } = this.#parts
    return new Map(
      commands.flatMap(({ deviceId, signalId, state, settledAt }) => {
        const shuts = registry.signal(signalId)?.signal.definition.control?.shutsDown !== undefined
        return shuts && state === 'confirmed' && settledAt !== null ? [[deviceId, settledAt] as const] : []
      }),
    )
  }

  /** When devices were shut down last, epoch ms, as it is written down. */
  async shutDowns(): Promise<Map<number, number>> {
    const { database, registry } = this.#parts
    const signals = [...registry.all()].flatMap((device) =>
      [...device.signals].flatMap(({ signal, definition }) =>
        definition.control?.shutsDown === undefined ? [] : signal,
      ),
    )
    return this.shutDownsAmong(await lastConfirmed(database, signals))
  }

  /** What values of a signal may differ by and still be the same. */
  readonly stepOf = (signal: number): number | null =>
    this.#parts.registry.signal(signal)?.signal.definition.control?.step ?? null

  /** Asks a signal for a value. Checked and written down while nobody else does so for the same signal. */
  async request(
    { device, signal }: { readonly device: RegisteredDevice; readonly signal: DeviceSignal },
    value: SignalValue,
    asker: Asker,
    why = '',
  ): Promise<Wished> {
    const { database, now, events } = this.#parts
    const control = signal.definition.control ?? usualControl
    const refused = (says: string): Wished => ({ command: null, refused: says })
    const problem = wishProblem(value, { ...signal.definition, control })
    if (problem) return refused(problem)
    if (device.isRetired) return refused(`${device.name} is out of service.`)
    if (signal.isFormer) return refused(`${device.name} does not have it any more.`)
    const changed: Command[] = []
    const wished = await database.transaction(async (tx): Promise<Wished> => {
      await tx.select().from(signalTable).where(eq(signalTable.id, signal.signal)).for('update')
      if ('turn' in asker) {
        const [known] = await tx
          .select()
          .from(command)
          .where(and(eq(command.signalId, signal.signal), eq(command.turn, asker.turn)))
        // It was asked already, by a server that ended before it could take that down.
        if (known) return { command: told(known), refused: null }
      }
      const forbidden = await this.#whyNot(tx, device, signal, value)
      if (forbidden) return refused(forbidden)
      const before = await lockOpenCommands(tx, eq(command.signalId, signal.signal))
      changed.push(...(await happened(tx, before, () => [{ kind: 'replaced' }], now())))
      const at = now()
      const [made] = await tx
        .insert(command)
        .values({
          signalId: signal.signal,
          deviceId: device.id,
          value,
          state: 'requested',
          requestedAt: new Date(at),
          until: new Date(at + this.#validFor(device, signal) * 1000),
          answer: '',
          ...('turn' in asker
            ? asker
            : { personId: asker.person.id, personName: asker.person.name, token: asker.token }),
          why,
        })
        .returning()
      if (!made) throw new Error('the command was not returned by the insert')
      return { command: told(made), refused: null }
    })
    if (wished.command) changed.push(wished.command)
    // It goes out before the rest of the world hears of it.
    this.tell(changed)
    if (wished.command) {
      const by = 'turn' in asker ? `By the rule “${asker.rule}”: ` : ''
      const says = `${by}${signal.definition.name}${signal.part === '' ? '' : ` ${signal.part}`} was asked for ${inWords(value, signal)}.`
      await events.write({
        kind: 'command',
        at: wished.command.requestedAt,
        ...('person' in asker && { caller: asker }),
        deviceId: device.id,
        signalId: signal.signal,
        says: why === '' ? says : `${says} ${why}`,
      })
    }
    return wished
  }

  /**
   * What waits to be sent to a device, and is still allowed: a sleeper's lid may have opened meanwhile. It counts as sent from
   * now on.
   * @param again whether what was sent already and has not ended is among it: the device may have missed it
   * @param reaches whether the device can be told of a signal just now
   */
  async takeWaiting(
    deviceId: number,
    again: boolean,
    reaches: (name: string) => boolean = () => true,
  ): Promise<WaitingCommand[]> {
    const { database, registry, now } = this.#parts
    const device = registry.byId(deviceId)
    if (!device) return []
    const rows = await openCommands(
      database,
      eq(command.deviceId, deviceId),
      gt(command.until, new Date(now())),
    )
    const waiting: WaitingCommand[] = []
    const changed: Command[] = []
    for (const row of rows) {
      const signal = registry.signal(row.signalId)?.signal
      if (!signal) continue
      const name = wireName(fieldOf(signal))
      if (!reaches(name) || (row.state === 'sent' && !mayComeAgain(again, signal))) continue
      const forbidden =
        row.state === 'requested' ? await this.#whyNot(database, device, signal, row.value) : undefined
      const next: Happening = forbidden ? { kind: 'forbidden', why: forbidden } : { kind: 'sent', at: now() }
      // Should that be lost, the command waits again and is sent once more, as the same one: nothing has to be on the disk for it.
      const [written] = await database.transaction(async (tx) => {
        await tx.execute(sql`set local synchronous_commit = off`)
        return happened(tx, [row], () => [next], now())
      })
      if (written) changed.push(written)
      // Where another server was the first, that one sends it.
      if (!forbidden && (written || row.state === 'sent'))
        waiting.push({ command: written ?? told(row), signal, name })
    }
    this.tell(changed)
    return waiting
  }

  /** What a device answered to a command itself. */
  async answered(deviceId: number, commandId: number, says: Answer, why: string): Promise<void> {
    const { database, now } = this.#parts
    const rows = await openCommands(database, eq(command.id, commandId), eq(command.deviceId, deviceId))
    this.tell(await happened(database, rows, () => [{ kind: 'answer', says, why }], now()))
  }

  /** Ends those whose time is over. */
  async endOverdue(): Promise<void> {
    const { database, now } = this.#parts
    const at = now()
    const rows = await openCommands(database, lt(command.until, new Date(at)))
    this.tell(await happened(database, rows, () => [{ kind: 'time', at }], at))
  }

  #validFor({ statedCadence }: RegisteredDevice, { definition }: DeviceSignal): number {
    const { control, cadence } = definition
    if (control?.validFor) return control.validFor
    const stated = secondsOf(cadence) ?? secondsOf(statedCadence) ?? 0
    return Math.min(longest, Math.max(shortest, 3 * stated))
  }

  async #whyNot(
    database: CommandTable,
    device: RegisteredDevice,
    { signal, definition }: DeviceSignal,
    value: SignalValue,
  ): Promise<string | undefined> {
    const { latest, now } = this.#parts
    const control = definition.control ?? usualControl
    const at = now()
    const rest = definition.kind !== 'switch' ? 0 : value === 1 ? control.leastOff : control.leastOn
    const wasOtherwise =
      rest > 0 && typeof value === 'number' && (await wasWithin(database, signal, value, at - rest * 1000))
    const sentInHour = control.mostAnHour === null ? 0 : await sentSince(database, signal, at - hour)
    const saidBy: Circumstances['saidBy'] = (named) => {
      const other = [...device.signals].find((each) => each.definition.name === named && !each.isFormer)
      const said = other && latest.of(other.signal)
      if (!said || typeof said.value !== 'number' || hasQuality(said.quality, Quality.atFault))
        return undefined
      const expected = secondsOf(other.definition.cadence) ?? secondsOf(device.statedCadence) ?? 0
      return at - said.at > Math.max(reliable, 2 * expected) * 1000 ? undefined : said.value
    }
    return whyNot({
      kind: definition.kind,
      value,
      control,
      changedWithin: () => wasOtherwise,
      sentInHour,
      saidBy,
    })
  }
}

/** A bare value without a number cannot be told from another one: what is momentary would be done twice. */
const mayComeAgain = (again: boolean, { definition }: DeviceSignal): boolean =>
  again && !(definition.kind === 'momentary' && definition.control?.bare === true)

/** Whether a switch was in a state since an instant. @param since epoch ms */
async function wasWithin(
  database: CommandTable,
  signal: number,
  value: number,
  since: number,
): Promise<boolean> {
  const found = await database
    .select({ one: sql`1` })
    .from(reading)
    .where(and(eq(reading.signalId, signal), gte(reading.at, new Date(since)), eq(reading.value, value)))
    .limit(1)
  return found.length > 0
}

const inWords = (value: SignalValue, { definition }: DeviceSignal): string =>
  definition.kind === 'momentary' ? 'once' : formatValue(value, definition)

const fieldOf = ({ definition, part }: DeviceSignal): string =>
  hasParts(definition.field) ? fieldOfPart(definition.field, part) : definition.field
