import type { Alarm, Occasion } from '../signal/alarm.ts'
import { formatValue } from '../signal/formatValue.ts'
import type { SignalDefinition } from '../signal/signal.ts'
import { unitSymbol } from '../units/index.ts'

type Described = Pick<SignalDefinition, 'kind' | 'choices' | 'unit'>

const limitWords = {
  lowLow: 'far too low',
  low: 'too low',
  high: 'too high',
  highHigh: 'far too high',
} as const

/** What is the case, as it stands behind the name of a signal: *too high*. Without the signal, as far as that goes. */
export function occasionWords(occasion: Occasion, of: Described | undefined): string {
  switch (occasion.by) {
    case 'limit':
      return limitWords[occasion.limit]
    case 'rate':
      return 'changes too fast'
    case 'silence':
      return occasion.from
    case 'fault':
      return 'sensor at fault'
    case 'state':
      return of ? occasion.values.map((value) => formatValue(value, of)).join(' or ') : 'in a state'
    case 'formula':
      return 'as its formula says'
  }
}

/** What an alarm is called: as somebody named it, else by what it is of and what is the case. */
export const alarmTitle = (
  subject: string,
  { name, occasion }: Pick<Alarm, 'name' | 'occasion'>,
  of?: Described,
): string => `${subject}: ${name === '' ? occasionWords(occasion, of) : name}`

/** The value that raised an alarm, and the limit it was beyond; empty where there is none. */
export function valueWords(value: number | null, limit: number | null, of: Described | undefined): string {
  if (value === null || !of || of.kind !== 'number') return ''
  const unit = of.unit === null ? '' : ` ${unitSymbol(of.unit)}`
  return `${formatValue(value, of)}${unit}${limit === null ? '' : `, limit ${formatValue(limit, of)}`}`
}
