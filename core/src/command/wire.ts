import type { SignalKind } from '../signal/signalKind.ts'
import type { SignalValue } from '../signal/value.ts'
import { type Answer, answers } from './command.ts'

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

/** What a device answered: to which command, what, and the value it has now, where it says so. */
export interface ReadAnswer {
  readonly id: number | undefined
  readonly says: Answer | undefined
  readonly why: string
  readonly value: unknown
}

const longestWhy = 200

/**
 * Reads what a device said of a controlled signal: `{"id": 17, "says": "done", "value": true, "why": "…"}` with what it wants of
 * that, or the bare value.
 */
export function readAnswer(text: string): ReadAnswer {
  const said = parsed(text)
  if (typeof said !== 'object' || said === null || Array.isArray(said))
    return { id: undefined, says: undefined, why: '', value: said }
  const { id, says, why, value } = said as Record<string, unknown>
  return {
    id: Number.isSafeInteger(id) ? (id as number) : undefined,
    says: answers.find((each) => each === says),
    why: typeof why === 'string' ? why.slice(0, longestWhy) : '',
    value,
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    // A board that says "on" says it in letters.
    return text
  }
}
