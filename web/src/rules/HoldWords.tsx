import type { RuleHold, Signal, StandingRule } from '@jaunty-sparrow/contract'
import { isSame } from '@jaunty-sparrow/core/command'
import { Link } from 'react-router'
import { commandValue } from '../commands/commandWords.ts'
import { Button } from '../design/Button.tsx'
import { useLatest } from '../live/useLive.ts'
import { clockOf, useNow } from '../time/clock.ts'
import { useResumeRulesMutation } from './rulesApi.ts'

interface HoldWordsProps {
  readonly signal: Signal
  readonly rules: readonly StandingRule[]
  readonly hold: RuleHold | undefined
  readonly canResume: boolean
}

/** Which rule holds a signal, or whose hand; in one sentence. */
export function HoldWords({ signal, rules, hold, canResume }: HoldWordsProps) {
  const [resume, { isLoading }] = useResumeRulesMutation()
  const now = useNow()
  const said = useLatest(signal)?.value
  const isSo =
    said === undefined || hold?.wish == null || isSame(said, hold.wish, signal.control?.step ?? null)
  const isAnyOn = rules.some(({ mode }) => mode === 'on')
  if (!isAnyOn) return <p className="text-sm text-ink-soft">No rule of it is switched on.</p>
  const holder = rules.find(({ id }) => id === hold?.ruleId)
  const name = holder && (
    <Link to={`/rules/${holder.id}`} className="font-semibold hover:text-chestnut hover:underline">
      {holder.name}
    </Link>
  )
  const wish = hold && hold.wish !== null ? commandValue({ value: hold.wish }, signal) : undefined
  // Nobody tells when the time of a hand is over and nothing follows from it.
  const hand = hold?.hand && hold.hand.until > now ? hold.hand : undefined
  if (hand)
    return (
      <div className="flex flex-wrap items-center gap-x-2 text-sm" data-hold="hand">
        <p>
          In the hand of {hand.person} until {clockOf(hand.until)}
          {name && wish ? (
            <>
              , then {wish} by {name}
            </>
          ) : (
            ', then as its rules say'
          )}
          .
        </p>
        {canResume && (
          <Button weight="quiet" disabled={isLoading} onClick={() => void resume(signal.id)}>
            Back to the rules now
          </Button>
        )}
      </div>
    )
  return (
    <p className="text-sm" data-hold={holder ? 'rule' : 'none'}>
      {name ? (
        <>
          Held {wish} by {name}
          {!isSo && ', which it is not yet'}
          {holder?.isUnknown && ', which does not know just now'}
          {hold?.problem ? <span className="text-ink-soft">: not sent. {hold.problem}</span> : '.'}
        </>
      ) : (
        <span className="text-ink-soft">None of its rules asks for anything just now.</span>
      )}
    </p>
  )
}
