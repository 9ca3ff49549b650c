import type pg from 'pg'

/** What a device said of its presence, to be told to whoever subscribes. */
export interface RetainedPresence {
  readonly address: string
  readonly payload: Buffer
  readonly qos: number
}

/** Keeps what devices said last of their presence, so that it outlives a restart. */
export class PresenceStore {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  async all(): Promise<RetainedPresence[]> {
    const { rows } = await this.#pool.query<RetainedPresence>(
      'select address, payload, qos from retained_presence join device on device.id = device_id',
    )
    return rows
  }

  /** @param payload empty to forget it, as MQTT has it */
  async keep(device: number, payload: Buffer, qos: number): Promise<void> {
    if (payload.length === 0) {
      await this.#pool.query('delete from retained_presence where device_id = $1', [device])
      return
    }
    await this.#pool.query(
      `insert into retained_presence (device_id, payload, qos) values ($1, $2, $3)
       on conflict (device_id) do update set payload = excluded.payload, qos = excluded.qos`,
      [device, payload, qos],
    )
  }
}
