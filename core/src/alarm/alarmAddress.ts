/** What an alarm is of: a signal, a device, or the server itself. */
export type AlarmSubject =
  | { readonly of: 'signal'; readonly signal: number }
  | { readonly of: 'device'; readonly device: number }
  | { readonly of: 'server' }

/** Which alarm is meant, and of what. */
export type AlarmAddress = AlarmSubject & { readonly key: string }

/** What addresses look like: `12.high`, `device-3.allowance`, `server.disk`. */
export const alarmAddressPattern = '^(?:[1-9]\\d{0,9}|device-[1-9]\\d{0,9}|server)\\.[a-z][a-z0-9-]{0,31}$'

const shape = new RegExp(alarmAddressPattern)

/** An alarm as routes, links and the database name it. */
export function alarmAddressOf(address: AlarmAddress): string {
  const { key } = address
  if (address.of === 'server') return `server.${key}`
  return address.of === 'device' ? `device-${address.device}.${key}` : `${address.signal}.${key}`
}

/** Reads such a name; undefined where it is none. */
export function readAlarmAddress(text: string): AlarmAddress | undefined {
  if (!shape.test(text)) return undefined
  const [subject = '', key = ''] = text.split('.')
  if (subject === 'server') return { of: 'server', key }
  if (subject.startsWith('device-')) return { of: 'device', device: Number(subject.slice(7)), key }
  return { of: 'signal', signal: Number(subject), key }
}
