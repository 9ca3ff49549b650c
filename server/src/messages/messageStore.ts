import type { Arrival, ArrivalOutcome, DoorName, Unclaimed } from '@jaunty-sparrow/contract'
import type pg from 'pg'
import type { KeptMessage } from './keptMessage.ts'

export interface ArrivalFilter {
  readonly before?: number
  readonly door?: DoorName
  readonly outcome?: ArrivalOutcome
  readonly text?: string
}

/** A message may be a megabyte. */
const messagesPerPage = 100

/** A board that makes up topics must not fill the page. */
const mostUnclaimed = 200

const summary = `id::float8, extract(epoch from received_at)::float8 * 1000 as received_at, door, device_id, sender, media_type, tail, topic,
  by_hand, length(body) as size, outcome, stored, reason`

interface Row {
  readonly id: number
  readonly received_at: number
  readonly door: DoorName
  readonly device_id: number
  readonly sender: string
  readonly media_type: string
  readonly tail: string
  readonly topic: string
  readonly by_hand: boolean
  readonly size: number
  readonly outcome: ArrivalOutcome
  readonly stored: number
  readonly reason: string
}

const arrival = ({ received_at, device_id, media_type, by_hand, ...row }: Row): Arrival => ({
  ...row,
  byHand: by_hand,
  receivedAt: Math.round(received_at),
  deviceId: device_id === 0 ? null : device_id,
  mediaType: media_type,
})

/** Reads kept messages; they are written by the intake. */
export class MessageStore {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /**
   * The newest messages that fit, the newest first.
   * @param devices whose messages to look through, 0 for senders that were not recognized
   */
  async list(
    devices: readonly number[],
    { before, door, outcome, text }: ArrivalFilter,
    limit: number,
  ): Promise<Arrival[]> {
    // Device by device along the one index, so that the cost follows the page and not what is kept. A body is searched as
    // far as it is plain text.
    const { rows } = await this.#pool.query<Row>(
      `select newest.* from unnest($1::int[]) as wanted (device), lateral (
         select ${summary} from message
         where device_id = wanted.device and ($2::bigint is null or id < $2) and ($3::text is null or door = $3)
           and ($4::text is null or outcome = $4)
           and ($5::text is null or strpos(lower(sender || ' ' || reason || ' ' || topic || ' ' || encode(body, 'escape')), lower($5)) > 0)
         order by message.id desc limit $6) newest
       order by id desc limit $6`,
      [devices, before ?? null, door ?? null, outcome ?? null, text || null, limit],
    )
    return rows.map(arrival)
  }

  /** The message of a device that came in at an instant (epoch ms), the first where there are several. */
  async receivedAt(device: number, at: number): Promise<{ arrival: Arrival; body: Buffer } | undefined> {
    const { rows } = await this.#pool.query<{ id: number }>(
      `select id::float8 from message
       where device_id = $1 and received_at >= to_timestamp(($2::float8 - 0.5) / 1000)
         and received_at < to_timestamp(($2::float8 + 0.5) / 1000)
       order by id limit 1`,
      [device, at],
    )
    return rows[0] && this.find(device, rows[0].id)
  }

  /** @param device whose message it is, 0 when the sender was not recognized */
  async find(device: number, id: number): Promise<{ arrival: Arrival; body: Buffer } | undefined> {
    const { rows } = await this.#pool.query<Row & { body: Buffer }>(
      `select ${summary}, body from message where device_id = $1 and id = $2`,
      [device, id],
    )
    const [row] = rows
    if (!row) return undefined
    const { body, ...rest } = row
    return { arrival: arrival(rest), body }
  }

  /**
   * Kept messages of a device, byte for byte, the oldest first; as many as may be held in memory at a time.
   * @param device 0 for senders that were not recognized
   * @param range ids after one and up to another
   */
  async page(
    device: number,
    { after, upTo, outcome }: { after: number; upTo?: number; outcome?: ArrivalOutcome },
  ): Promise<KeptMessage[]> {
    const { rows } = await this.#pool.query<Row & { body: Buffer }>(
      `select ${summary}, body from message
       where device_id = $1 and id > $2 and ($3::bigint is null or id <= $3) and ($4::text is null or outcome = $4)
       order by message.id limit $5`,
      [device, after, upTo ?? null, outcome ?? null, messagesPerPage],
    )
    return rows.map(({ body, ...row }) => {
      const { size: _, ...rest } = arrival(row)
      return { ...rest, body }
    })
  }

  /**
   * When devices spoke last, each by itself; what a person brought tells nothing of that.
   * @returns for each device epoch ms, oldest first, as many as are asked for
   */
  async lastArrivals(count: number): Promise<Map<number, number[]>> {
    const { rows } = await this.#pool.query<{ device_id: number; instants: number[] }>(
      `select device.id as device_id, array_agg(round(extract(epoch from last.received_at) * 1000)::float8 order by last.id) as instants
       from device, lateral (
         select id, received_at from message
         where device_id = device.id and outcome in ('stored', 'partly') and not by_hand
         order by message.id desc limit $1) last
       group by device.id`,
      [count],
    )
    return new Map(rows.map(({ device_id, instants }) => [device_id, instants]))
  }

  /**
   * The id of the newest kept message; 0 when there is none.
   * @param devices whose messages are looked at, 0 for senders that were not recognized
   */
  async newest(...devices: readonly number[]): Promise<number> {
    const { rows } = await this.#pool.query<{ newest: number | null }>(
      `select max(own.newest)::float8 as newest from unnest($1::int[]) as wanted (device), lateral (
         select max(id) as newest from message where device_id = wanted.device) own`,
      [devices],
    )
    return rows[0]?.newest ?? 0
  }

  /** What nobody has claimed, by sender and topic, the newest first. */
  async unclaimed(): Promise<Unclaimed[]> {
    const { rows } = await this.#pool.query<
      Omit<Unclaimed, 'keyId' | 'sample'> & { key_id: number; beginning: Buffer }
    >(
      `select key_id, talking.sender, talking.topic, messages, first_at as "firstAt", last_at as "lastAt",
         newest::float8 as "newestId", substring(body for 200) as beginning
       from (
         select device_id as key_id, sender, topic, count(*)::int as messages, max(id) as newest,
           round(extract(epoch from min(received_at)) * 1000)::float8 as first_at,
           round(extract(epoch from max(received_at)) * 1000)::float8 as last_at
         from message where outcome = 'unclaimed' group by 1, 2, 3 order by newest desc limit ${mostUnclaimed}
       ) talking join message on device_id = key_id and id = newest
       order by newest desc`,
    )
    return rows.map(({ key_id, beginning, ...rest }) => ({
      ...rest,
      keyId: key_id === 0 ? null : key_id,
      sample: beginning.toString('utf8'),
    }))
  }

  /** Gives messages that nobody had claimed to whom they are said to be of now, with what came of them. */
  async reassign(keptUnder: number, messages: readonly KeptMessage[]): Promise<void> {
    await this.#pool.query(
      `update message set device_id = given.device_id, tail = given.tail, outcome = given.outcome,
         stored = given.stored, reason = given.reason
       from unnest($2::bigint[], $3::int[], $4::text[], $5::text[], $6::int[], $7::text[])
         as given (id, device_id, tail, outcome, stored, reason)
       where message.device_id = $1 and message.id = given.id and message.outcome = 'unclaimed'`,
      [
        keptUnder,
        messages.map(({ id }) => id),
        messages.map(({ deviceId }) => deviceId ?? 0),
        messages.map(({ tail }) => tail),
        messages.map(({ outcome }) => outcome),
        messages.map(({ stored }) => stored),
        messages.map(({ reason }) => reason),
      ],
    )
  }

  /** Puts right what is said of a message that was written already. */
  async correct({ id, deviceId, outcome, stored, reason }: KeptMessage): Promise<void> {
    await this.#pool.query(
      'update message set outcome = $3, stored = $4, reason = $5 where device_id = $1 and id = $2',
      [deviceId ?? 0, id, outcome, stored, reason],
    )
  }

  async deleteOf(device: number): Promise<void> {
    await this.#pool.query('delete from message where device_id = $1', [device])
  }
}
