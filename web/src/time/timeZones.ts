/** Where this browser is. */
export const here = Intl.DateTimeFormat().resolvedOptions().timeZone

/** All time zones by their IANA names, the likely ones first. */
export const timeZones: readonly string[] = [...new Set([here, 'UTC', ...Intl.supportedValuesOf('timeZone')])]
