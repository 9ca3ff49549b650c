import type { SignalDefinition } from '@jaunty-sparrow/contract'
import { isUnit, unitSymbol, usualUnits } from '@jaunty-sparrow/core/units'

/** How something is written into a cell of a table and read out of it again. */
export interface CellText<T> {
  readonly write: (value: T) => string
  /** @throws CellError that says what was not understood */
  readonly read: (text: string) => T
}

/** A cell that cannot be read. */
export class CellError extends Error {}

const number = (text: string): number => {
  const value = Number(
    text
      .trim()
      .replace('−', '-')
      .replace(/^(-?\d+),(\d+)$/, '$1.$2'),
  )
  if (text.trim() === '' || !Number.isFinite(value)) throw new CellError(`"${text.trim()}" is no number.`)
  return value
}

const parts = (text: string, sign = ','): string[] =>
  text
    .split(sign)
    .map((part) => part.trim())
    .filter((part) => part !== '')

/** A name as people give it. */
export const nameText: CellText<string> = {
  write: (name) => name,
  read: (text) => {
    if (text.trim() === '') throw new CellError('A signal needs a name.')
    return text.trim()
  },
}

/** A field, with dots for its slashes. */
export const fieldText: CellText<string> = {
  write: (pointer) => pointer.slice(1).replaceAll('/', '.'),
  read: (text) => {
    const segments = parts(text.replaceAll('/', '.'), '.')
    if (segments.length === 0) throw new CellError('A signal is read from a field.')
    return `/${segments.join('/')}`
  },
}

/** A unit by its symbol or its code. */
export const unitText: CellText<string | null> = {
  write: (unit) => (unit === null ? '' : unitSymbol(unit)),
  read: (text) => {
    const said = text.trim()
    if (said === '') return null
    const plain = (symbol: string) => symbol.replaceAll('μ', 'µ')
    const usual = usualUnits.find(
      ({ code, name }) => plain(said) === unitSymbol(code) || said === code || said === name,
    )
    if (usual) return usual.code
    if (!isUnit(said)) throw new CellError(`"${said}" is no unit: write its symbol or its code of UCUM.`)
    return said
  },
}

export const decimalsText: CellText<number | null> = {
  write: (decimals) => (decimals === null ? '' : String(decimals)),
  read: (text) => (text.trim() === '' ? null : number(text)),
}

type Range = SignalDefinition['range']

/** A range: −10 to 40, from 0 on as "0 to", up to 9 as "to 9". */
export const rangeText: CellText<Range> = {
  write: ({ low, high }) => (low === null && high === null ? '' : `${low ?? ''} to ${high ?? ''}`.trim()),
  read: (text) => {
    if (text.trim() === '') return { low: null, high: null }
    const ends = text.split(/\bto\b|\.\.|…/)
    if (ends.length !== 2) throw new CellError('A range is written as -10 to 40, 0 to, or to 40.')
    const [low = '', high = ''] = ends
    return { low: low.trim() === '' ? null : number(low), high: high.trim() === '' ? null : number(high) }
  },
}

/** Named ranges: good to 800, fair 800 to 1200, poor 1200 to. */
export const bandsText: CellText<SignalDefinition['bands']> = {
  write: (bands) =>
    bands.map(({ name, from, to }) => `${name} ${rangeText.write({ low: from, high: to })}`).join(', '),
  read: (text) =>
    parts(text).map((band) => {
      const [, name = '', range = ''] = /^(.*?\S)\s+(-?[\d.]*\s*to\b.*)$/.exec(band) ?? []
      if (name === '') throw new CellError(`"${band}" is no band: write good to 800, fair 800 to 1200.`)
      const { low, high } = rangeText.read(range)
      return { name, from: low, to: high }
    }),
}

const units: Readonly<Record<string, number>> = { s: 1, min: 60, h: 3600, d: 86_400 }

/** A time as so many seconds, minutes, hours or days. */
export const lastingText: CellText<number> = {
  write: (seconds) => {
    const [unit, size] = Object.entries(units)
      .reverse()
      .find(([, length]) => seconds !== 0 && seconds % length === 0) ?? ['s', 1]
    return `${seconds / size} ${unit}`
  },
  read: (text) => {
    const [, amount = '', unit = 's'] = /^\s*([\d.]+)\s*(s|min|h|d)?\s*$/.exec(text) ?? []
    if (amount === '') throw new CellError(`"${text.trim()}" is no time: write 30 s, 10 min, 1 h.`)
    return number(amount) * (units[unit] ?? 1)
  },
}

type Limits = NonNullable<SignalDefinition['limits']>
const bounds = { 'low-low': 'lowLow', low: 'low', high: 'high', 'high-high': 'highHigh' } as const
const none: Limits = {
  lowLow: null,
  low: null,
  high: null,
  highHigh: null,
  deadband: 0,
  onDelay: 0,
  offDelay: 0,
}

/** Limits: low 4, high 8, deadband 0.5, after 60 s, back after 2 min. */
export const limitsText: CellText<SignalDefinition['limits']> = {
  write: (limits) => {
    if (limits === null) return ''
    const { deadband, onDelay, offDelay } = limits
    const said = Object.entries(bounds).flatMap(([name, key]) =>
      limits[key] === null ? [] : `${name} ${limits[key]}`,
    )
    return [
      ...said,
      ...(deadband > 0 ? [`deadband ${deadband}`] : []),
      ...(onDelay > 0 ? [`after ${lastingText.write(onDelay)}`] : []),
      ...(offDelay > 0 ? [`back after ${lastingText.write(offDelay)}`] : []),
    ].join(', ')
  },
  read: (text) => {
    if (text.trim() === '') return null
    const limits = { ...none }
    for (const part of parts(text)) {
      const [, name = '', value = ''] =
        /^(low-low|low|high-high|high|deadband|back after|after)\s+(.+)$/.exec(part) ?? []
      if (name === '')
        throw new CellError(`"${part}" is no limit: write low 4, high 8, deadband 0.5, after 60 s.`)
      if (name === 'after') limits.onDelay = lastingText.read(value)
      else if (name === 'back after') limits.offDelay = lastingText.read(value)
      else if (name === 'deadband') limits.deadband = number(value)
      else limits[bounds[name as keyof typeof bounds]] = number(value)
    }
    return limits
  },
}

/** What is stored: every; change 0.5, 10 min; mean of 60 s. */
export const storingText: CellText<SignalDefinition['storing']> = {
  write: (storing) => {
    if (storing.by === 'every') return 'every'
    return storing.by === 'change'
      ? `change ${storing.deadband}, ${lastingText.write(storing.heartbeat)}`
      : `${storing.of} of ${lastingText.write(storing.seconds)}`
  },
  read: (text) => {
    const said = text.trim()
    if (said === '' || said === 'every') return { by: 'every' }
    const [, deadband, heartbeat] = /^change\s+([^,\s]+)\s*,\s*(.+)$/.exec(said) ?? []
    if (deadband !== undefined && heartbeat !== undefined)
      return { by: 'change', deadband: number(deadband), heartbeat: lastingText.read(heartbeat) }
    const [, of, seconds] = /^(last|mean|range) of (.+)$/.exec(said) ?? []
    if (of === undefined || seconds === undefined)
      throw new CellError('What is stored is written as every; change 0.5, 10 min; or mean of 60 s.')
    return { by: 'interval', of: of as 'last', seconds: lastingText.read(seconds) }
  },
}

/** How often it is expected: empty as its device, 30 s, asleep 10 min, events. */
export const cadenceText: CellText<SignalDefinition['cadence']> = {
  write: (cadence) => {
    if (cadence === null) return ''
    if (cadence.by === 'event') return 'events'
    return `${cadence.by === 'sleep' ? 'asleep ' : ''}${lastingText.write(cadence.seconds)}`
  },
  read: (text) => {
    const said = text.trim()
    if (said === '') return null
    if (said === 'events') return { by: 'event' }
    const sleeps = /^asleep\s+(.+)$/.exec(said)?.[1]
    return sleeps === undefined
      ? { by: 'always', seconds: lastingText.read(said) }
      : { by: 'sleep', seconds: lastingText.read(sleeps) }
  },
}

/** Numbers with a name: the states of a choice, or values that mean a fault. */
const named = <K extends 'code' | 'value'>(
  key: K,
  what: string,
): CellText<(Record<K, number> & { name: string })[]> => ({
  write: (all) => all.map((one) => `${one[key]} ${one.name}`).join(', '),
  read: (text) =>
    parts(text).map((part) => {
      const [, value, name] = /^(\S+)\s+(.+)$/.exec(part) ?? []
      if (value === undefined || name === undefined)
        throw new CellError(`"${part}" is no ${what}: write 0 off, 1 on.`)
      return { [key]: number(value), name } as Record<K, number> & { name: string }
    }),
})
export const choicesText = named('code', 'state')
export const faultsText = named('value', 'fault')

/** A text that may be missing. */
export const optionalText: CellText<string | null> = {
  write: (text) => text ?? '',
  read: (text) => (text.trim() === '' ? null : text.trim()),
}
