import type { SignalKind } from '../signal/signalKind.ts'
import type { SignalValue } from '../signal/value.ts'

/** What a signal is called on the wire: the pointer of its field without its first stroke, `lamp/red`. */
export const wireName = (field: string): string => field.slice(1)

interface Told {
  readonly id: number
  readonly value: SignalValue
  /** Epoch ms. */
  readonly until: number
}

/** A value as boards take it: a switch is true or false. */
const onTheWire = (value: SignalValue, kind: SignalKind): unknown => (kind === 'switch' ? value === 1 : value)

/** What a device is sent: its number, the value and until when it holds; or the bare value. */
export function commandText({ id, value, until }: Told, kind: SignalKind, isBare: boolean): string {
  const said = onTheWire(value, kind)
  return isBare
    ? typeof said === 'string'
      ? said
      : JSON.stringify(said)
    : JSON.stringify({ id, value: said, until })
}

/** A command in the answer to a board that asked for what waits. */
export const commandFor = (signal: string, { id, value, until }: Told, kind: SignalKind) => ({
  id,
  signal,
  value: onTheWire(value, kind),
  until,
})
