/** Whether this is an IANA time zone that we know; offsets like +01:00 are none, as they know no summer time. */
export function isTimeZone(name: string): boolean {
  if (!/^[A-Za-z]/.test(name)) return false
  try {
    new Intl.DateTimeFormat('en', { timeZone: name })
    return true
  } catch {
    return false
  }
}
