import type { Arrival, ArrivalOutcome, DoorName } from '@jaunty-sparrow/contract'
import type pg from 'pg'

export interface ArrivalFilter {
  readonly before?: number
  readonly door?: DoorName
  readonly outcome?: ArrivalOutcome
  readonly text?: string
}

const summary = `id::float8, extract(epoch from received_at)::float8 * 1000 as received_at, door, device_id, sender, media_type, tail,
  length(body) as size, outcome, stored, reason`

interface Row {
  readonly id: number
  readonly received_at: number
  readonly door: DoorName
  readonly device_id: number
  readonly sender: string
  readonly media_type: string
  readonly tail: string
  readonly size: number
  readonly outcome: ArrivalOutcome
  readonly stored: number
  readonly reason: string
}

const arrival = ({ received_at, device_id, media_type, ...row }: Row): Arrival => ({
  ...row,
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
           and ($5::text is null or strpos(lower(sender || ' ' || reason || ' ' || encode(body, 'escape')), lower($5)) > 0)
         order by message.id desc limit $6) newest
       order by id desc limit $6`,
      [devices, before ?? null, door ?? null, outcome ?? null, text || null, limit],
    )
    return rows.map(arrival)
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

  async deleteOf(device: number): Promise<void> {
    await this.#pool.query('delete from message where device_id = $1', [device])
  }
}
