import { tz } from '@date-fns/tz/tz'
import { format } from 'date-fns/format'

/** What a clock on the wall of a place shows at an instant (epoch ms), to the second, as ISO 8601 has it without a zone. */
export const wallClock = (at: number, zone: string): string =>
  format(at, "yyyy-MM-dd'T'HH:mm:ss", { in: tz(zone) })
