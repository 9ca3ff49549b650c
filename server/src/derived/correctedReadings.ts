import { type Calibration, calibrate } from '@jaunty-sparrow/core/calibration'
import type { FoundInput, NumberReading } from '@jaunty-sparrow/core/derived'
import { hasQuality, Quality } from '@jaunty-sparrow/core/signal'
import groupBy from 'lodash-es/groupBy.js'
import type pg from 'pg'
import { askedOf, neededReadings } from './neededReadings.ts'

/** What holds of corrections, by signal. */
export async function calibrationsOf(
  client: Pick<pg.ClientBase, 'query'>,
  signals: readonly number[],
): Promise<Map<number, Calibration[]>> {
  const { rows } = await client.query<Calibration & { signal: number }>({
    name: 'calibrations-for-derived',
    text: `select signal_id as signal, gain, "offset", round(extract(epoch from valid_from) * 1000)::float8 as "validFrom"
           from calibration where taken_back_at is null and signal_id = any($1::int[]) order by id`,
    values: [[...new Set(signals)]],
  })
  return new Map(
    Object.entries(groupBy(rows, ({ signal }) => signal)).map(([signal, of]) => [Number(signal), of]),
  )
}

/** Readings as they go out: corrected by what holds for their instants. */
export const corrected = (
  rows: readonly NumberReading[],
  calibrations: readonly Calibration[] | undefined,
): readonly NumberReading[] =>
  calibrations
    ? rows.map((row) => ({
        ...row,
        value: hasQuality(row.quality, Quality.atFault)
          ? row.value
          : Number(calibrate(calibrations, row.at, row.value)),
      }))
    : rows

/** What is needed of each input to derive a span, corrected. @param from,to epoch ms, both ends included */
export async function inputReadings(
  client: Pick<pg.ClientBase, 'query'>,
  inputs: readonly FoundInput[],
  from: number,
  to: number,
): Promise<(readonly NumberReading[])[]> {
  const { read } = await neededReadings(
    client,
    inputs.map((input) => askedOf(input, from, to)),
  )
  const calibrations = await calibrationsOf(
    client,
    inputs.map(({ signal }) => signal),
  )
  return inputs.map(({ signal }, place) => corrected(read[place] ?? [], calibrations.get(signal)))
}
