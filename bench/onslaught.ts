import { chanceFrom } from '../server/src/testing/chance.ts'
import { onslaught } from '../server/src/testing/onslaught.ts'
import { quantile, whole } from './median.ts'

/** ONSLAUGHT_INPUTS says another number of them. */
const inputs = Number(process.env.ONSLAUGHT_INPUTS ?? 1_000_000)

/** What a million inputs that nobody would send who means well do to the server, and to a calm device. */
export async function hostileRun(databaseUrl: string): Promise<string[]> {
  const { statuses, faults, crashed, memory, calm } = await onslaught(databaseUrl, inputs, chanceFrom(2026))
  const of = (fits: (status: number) => boolean) =>
    [...statuses].reduce((sum, [status, count]) => (fits(status) ? sum + count : sum), 0)
  const broken = of((status) => status >= 500 && status !== 503)
  const mebibytes = (bytes: number) => `${Math.round(bytes / 1024 / 1024)} MiB`
  const times = (list: readonly number[]) =>
    `p50 ${quantile(list, 0.5).toFixed(1)} ms, p99 ${quantile(list, 0.99).toFixed(1)} ms`
  return [
    `| ${whole(inputs)} hostile inputs over HTTP, MQTT, CoAP and WebSocket | ${crashed ? 'crashed' : 'no crash'}, ${faults} unforeseen faults, ${broken} answers of 500 | none |`,
    `| … of ${whole(of(() => true))} answers over HTTP | ${whole(of((status) => status < 300))} stored, ${whole(of((status) => status >= 400 && status < 500))} refused, ${whole(of((status) => status === 503))} told to come back | |`,
    `| … memory of the server after a fifth of them, and after all | ${mebibytes(memory.before)}, ${mebibytes(memory.after)} | |`,
    `| … a calm device before, and beside them | ${times(calm.before)}; ${times(calm.during)} | |`,
  ]
}
