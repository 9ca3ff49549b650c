import type { Arrival, ArrivalOutcome, DoorName } from '@jaunty-sparrow/contract'
import type pg from 'pg'

export interface ArrivalFilter {
  readonly before?: number
  readonly deviceId?: number
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
  readonly device_id: number | null
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
  deviceId: device_id,
  mediaType: media_type,
})

/** Reads kept messages; they are written by the intake. */
export class MessageStore {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /** The newest messages that fit, the newest first. */
  async list({ before, deviceId, door, outcome, text }: ArrivalFilter, limit: number): Promise<Arrival[]> {
    // A body is searched as far as it is plain text: everything else about it is shown as dots.
    const { rows } = await this.#pool.query<Row>(
      `select ${summary} from message
       where ($1::bigint is null or id < $1) and ($2::int is null or device_id = $2) and ($3::text is null or door = $3)
         and ($4::text is null or outcome = $4)
         and ($5::text is null or strpos(lower(sender || ' ' || reason || ' ' || encode(body, 'escape')), lower($5)) > 0)
       order by id desc limit $6`,
      [before ?? null, deviceId ?? null, door ?? null, outcome ?? null, text || null, limit],
    )
    return rows.map(arrival)
  }

  async find(id: number): Promise<{ arrival: Arrival; body: Buffer } | undefined> {
    const { rows } = await this.#pool.query<Row & { body: Buffer }>(
      `select ${summary}, body from message where id = $1`,
      [id],
    )
    const [row] = rows
    if (!row) return undefined
    const { body, ...rest } = row
    return { arrival: arrival(rest), body }
  }
}
