import type pg from 'pg'

/** When devices and signals were heard last, epoch ms. */
export interface Heard {
  readonly devices: Map<number, number>
  readonly signals: Map<number, number>
}

/** Reads when devices and signals were heard last, as it was kept before the start. */
export async function readHeard(pool: pg.Pool): Promise<Heard> {
  const read = async (table: string, id: string): Promise<Map<number, number>> => {
    const { rows } = await pool.query<[number, number]>({
      text: `select ${id}, round(extract(epoch from at) * 1000)::float8 from ${table}`,
      rowMode: 'array',
    } as pg.QueryArrayConfig)
    return new Map(rows)
  }
  return { devices: await read('heard', 'device_id'), signals: await read('signal_heard', 'signal_id') }
}
