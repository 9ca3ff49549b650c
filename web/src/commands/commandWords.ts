import type { Command, Signal } from '@jaunty-sparrow/contract'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { valueText } from '../language/valueText.ts'

/** How far a command has come, in words that go on after its value. */
export const stateWords: Readonly<Record<Command['state'], string>> = {
  requested: 'waits to be sent',
  sent: 'was sent, not confirmed yet',
  confirmed: 'is confirmed by the device',
  refused: 'was refused',
  expired: 'has expired',
  otherwise: 'was answered otherwise',
}

/** What was asked for, as it is read. */
export const commandValue = (
  { value }: Pick<Command, 'value'>,
  signal: Pick<Signal, 'kind' | 'unit' | 'choices' | 'name' | 'decimals'>,
): string => {
  if (signal.kind === 'momentary') return signal.name
  const unit = signal.kind === 'number' && signal.unit ? ` ${unitSymbol(signal.unit)}` : ''
  return `${valueText(value, signal)}${unit}`
}
