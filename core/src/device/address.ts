import deburr from 'lodash-es/deburr.js'

/** What an address looks like: lower-case letters, digits and single hyphens, as it must fit a topic and a URL. */
export const addressPattern = '^[a-z0-9]+(-[a-z0-9]+)*$'

export const longestAddress = 40

/** Makes an address out of a name; empty when the name holds no Latin letter or digit. */
export const addressFromName = (name: string): string =>
  deburr(name)
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-/, '')
    .slice(0, longestAddress)
    .replace(/-$/, '')
