import type { Command, Signal } from '@jaunty-sparrow/contract'
import { isOpen } from '@jaunty-sparrow/core/command'
import { describeAge } from '@jaunty-sparrow/core/time'
import { useMemo } from 'react'
import { clockOf, useBeat } from '../time/clock.ts'
import { commandValue, stateWords } from './commandWords.ts'
import { useCommands } from './useWishes.ts'

/** What became of a wish is told so long after its end, ms. */
const toldFor = 60_000

/** What was asked for last, by whom, and what has come of it. */
export function Outcome({
  signal,
  onlyTrouble = false,
  wakesAt,
}: {
  readonly signal: Signal
  /** Whether only what went otherwise than asked is told. */
  readonly onlyTrouble?: boolean
  /** When its device is awake again, epoch ms, where it sleeps. */
  readonly wakesAt?: number | undefined
}) {
  const command = useCommands(useMemo(() => [signal], [signal])).get(signal.id)
  const now = useBeat(1000)
  if (!command) return null
  const { state, settledAt, person, rule } = command
  const by = rule === null ? person : `the rule “${rule}”`
  const wakes = state === 'requested' && wakesAt !== undefined ? clockOf(Math.max(now, wakesAt)) : undefined
  // Who sees what it is asked for anyhow does not see that the board sleeps.
  if (onlyTrouble && wakes !== undefined)
    return <p className="text-sm text-ink-soft">Its board sleeps, and wakes about {wakes}.</p>
  if (onlyTrouble && (isOpen(state) || state === 'confirmed')) return null
  if (!isOpen(state) && (settledAt === null || now - settledAt > toldFor)) return null
  return (
    <p role="status" className="text-sm text-ink-soft" data-outcome={state}>
      <span className={isOpen(state) ? 'font-semibold text-chestnut' : 'text-ink'}>
        {commandValue(command, signal)} {stateWords[state]}
      </span>
      {wakes !== undefined && `, until it wakes about ${wakes}`}
      {said(command)}
      {by && ` · ${by}, ${describeAge(Math.max(0, now - command.requestedAt))}`}
    </p>
  )
}

const said = ({ answer }: Command): string => (answer === '' ? '' : `: ${answer}`)
