/** Where this browser is. */
export const here = Intl.DateTimeFormat().resolvedOptions().timeZone

/** Fixed offsets, for clocks that stay on winter time all year. */
export const fixedOffsets: readonly string[] = Array.from({ length: 27 }, (_, index) => {
  const hours = index - 12
  return `${hours < 0 ? '-' : '+'}${String(Math.abs(hours)).padStart(2, '0')}:00`
})

/** All time zones by their IANA names, the likely ones first. */
export const timeZones: readonly string[] = [...new Set([here, 'UTC', ...Intl.supportedValuesOf('timeZone')])]
