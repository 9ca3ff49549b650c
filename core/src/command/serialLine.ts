import type { SignalKind } from '../signal/signalKind.ts'
import type { SignalValue } from '../signal/value.ts'
import { type ReadAnswer, readAnswer } from './answer.ts'
import { commandFor, commandText } from './wire.ts'

interface Told {
  readonly id: number
  readonly value: SignalValue
  /** Epoch ms. */
  readonly until: number
}

/** A command as a line down a cable: `{"set":"fogger","id":17,"value":true,"until":…}`, or `fogger=true` for a board that reads no JSON. */
export function lineOf(name: string, told: Told, kind: SignalKind, isBare: boolean): string {
  if (isBare) return `${name}=${commandText(told, kind, true)}\n`
  const { signal, ...rest } = commandFor(name, told, kind)
  return `${JSON.stringify({ set: signal, ...rest })}\n`
}

/**
 * The answer to a command among the lines that a board prints: `{"state":"fogger","id":17,"says":"done","value":true}`.
 * @returns undefined for what is an ordinary message
 */
export function answerIn(line: string): (ReadAnswer & { readonly signal: string }) | undefined {
  if (!line.startsWith('{') || !line.includes('"says"')) return undefined
  const answer = readAnswer(line)
  return answer.signal !== undefined && answer.id !== undefined && answer.says
    ? { ...answer, signal: answer.signal }
    : undefined
}
