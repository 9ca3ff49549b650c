import type { DatedEvent } from '@jaunty-sparrow/contract'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import startCase from 'lodash-es/startCase.js'
import { dateFormat } from '../language/dateFormat.ts'

/** One thing that was changed, in words; undefined where there was nothing before or is nothing after. */
export interface Difference {
  readonly what: string
  readonly before: string | undefined
  readonly after: string | undefined
}

const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'short' })

/** What is called otherwise on the pages. */
const names: Readonly<Record<string, string>> = {
  lat: 'latitude',
  lon: 'longitude',
  range: 'plausible range',
  shown: 'shown range',
  storing: 'what is stored',
  greatestRate: 'greatest change in a second',
  frameAncestors: 'pages it may stand in',
  expiresAt: 'ends',
  everywhere: 'at all sites',
  reach: 'other places it may publish at',
  place: 'pattern',
}

/** What was changed, in words a person reads: without the numbers of things and without what says nothing. */
export function differences(change: DatedEvent['change']): Difference[] {
  if (!change) return []
  const keys = [...new Set([...Object.keys(change.before), ...Object.keys(change.after)])]
  return keys
    .filter((key) => !/Ids?$/.test(key))
    .map((key) => ({
      what: names[key] ?? startCase(key).toLowerCase(),
      before: worded(key, change.before[key]),
      after: worded(key, change.after[key]),
    }))
    .filter(({ before, after }) => before !== after)
}

function worded(key: string, value: unknown): string | undefined {
  if (value === undefined || value === null || value === '') return undefined
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return /At$|^validFrom$/.test(key) ? moment.format(value) : String(value)
  if (typeof value === 'string') return key === 'unit' || key === 'as' ? unitSymbol(value) : value
  const parts = Array.isArray(value)
    ? value.map((one) => worded(key, one))
    : Object.entries(value).map(([name, one]) => {
        const words = /Ids?$/.test(name) ? undefined : worded(name, one)
        return words && `${names[name] ?? startCase(name).toLowerCase()} ${words}`
      })
  return parts.filter((part) => part !== undefined).join(', ') || undefined
}
