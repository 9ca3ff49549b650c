import type { Device, RuleHold, Signal, StandingRule } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { lengthWords } from '@jaunty-sparrow/core/time'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { Button } from '../../design/Button.tsx'
import { IconButton } from '../../design/IconButton.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Sheet } from '../../design/Sheet.tsx'
import { Value } from '../../live/Value.tsx'
import { useAccess, useMay } from '../../people/useMay.ts'
import { HoldWords } from '../../rules/HoldWords.tsx'
import { RuleModeSwitch } from '../../rules/RuleModeSwitch.tsx'
import { useOrderRulesMutation, useRulesQuery } from '../../rules/rulesApi.ts'
import { ruleSentence } from '../../rules/ruleWords.ts'
import { useNameOf } from '../rule/useNameOf.ts'

/** How long a hand may come first, s. */
const handTimes = [0, 300, 900, 1800, 3600, 7200, 14_400, 28_800, 86_400]

/** All rules, by the signal they ask, in the order in which they are obeyed. */
export function RuleList({ devices }: { readonly devices: readonly Device[] }) {
  const { data, error } = useRulesQuery()
  const [picking, setPicking] = useState(false)
  const access = useAccess()
  const controlled = devices.flatMap((device) =>
    device.signals.flatMap((signal) =>
      signal.origin === 'controlled' && !signal.isFormer ? [{ device, signal }] : [],
    ),
  )
  const ruled = controlled.filter(({ signal }) => data?.rules.some(({ signalId }) => signalId === signal.id))
  const mayBeRuled = controlled.filter(({ device }) => mayAt(access, 'owner', device.siteId))
  return (
    <section className="grid gap-4 border-t border-ink pt-3" aria-labelledby="rules">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 id="rules" className="text-lg">
          Rules
        </h2>
        {mayBeRuled.length > 0 && <Button onClick={() => setPicking(true)}>New rule</Button>}
      </div>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {data?.rules.length === 0 && (
        <p className="max-w-prose text-ink-soft">
          None yet. A rule asks a switch or a setting by itself: when the humidity is low, after sunset, until
          the lid is opened. It is tried on the past before it is switched on.
        </p>
      )}
      {ruled.map(({ device, signal }) => (
        <OfSignal
          key={signal.id}
          device={device}
          signal={signal}
          rules={data?.rules.filter(({ signalId }) => signalId === signal.id) ?? []}
          hold={data?.holds.find(({ signalId }) => signalId === signal.id)}
        />
      ))}
      {picking && (
        <Sheet open title="A rule for" onClose={() => setPicking(false)}>
          <ul className="grid max-h-[60dvh] gap-1 overflow-y-auto">
            {mayBeRuled.map(({ device, signal }) => (
              <li key={signal.id}>
                <Link
                  to={`/rules/new/${signal.id}`}
                  className="flex min-h-9 items-center gap-3 rounded px-2 text-sm hover:bg-well"
                >
                  <span className="flex-1">
                    <strong>{signalTitle(signal)}</strong>{' '}
                    <span className="text-ink-soft">{device.name}</span>
                  </span>
                  <Value signal={signal} />
                </Link>
              </li>
            ))}
          </ul>
        </Sheet>
      )}
    </section>
  )
}

interface OfSignalProps {
  readonly device: Device
  readonly signal: Signal
  readonly rules: readonly StandingRule[]
  readonly hold: RuleHold | undefined
}

function OfSignal({ device, signal, rules, hold }: OfSignalProps) {
  const nameOf = useNameOf(device.id)
  const isOwner = useMay('owner', device.siteId)
  const isOperator = useMay('operator', device.siteId)
  const [order, { isLoading, error }] = useOrderRulesMutation()
  const handFor = hold?.handFor ?? 3600
  const ids = rules.map(({ id }) => id)
  const put = (next: readonly number[], hand = handFor) =>
    void order({ signalId: signal.id, body: { order: [...next], handFor: hand } })
  const move = (place: number, by: number) => {
    const next = [...ids]
    const [moved] = next.splice(place, 1)
    if (moved !== undefined) next.splice(place + by, 0, moved)
    put(next)
  }
  return (
    <section
      id={`rules-${signal.id}`}
      aria-label={`Rules of ${signalTitle(signal)}, ${device.name}`}
      className="grid gap-2 border-t border-rule pt-3 sm:grid-cols-[14rem_1fr] sm:gap-x-6"
    >
      <div className="grid content-start gap-1">
        <h3 className="font-sans text-sm font-semibold">
          {signalTitle(signal)}{' '}
          <Link
            to={`/devices/${device.address}`}
            className="font-normal text-ink-soft hover:text-chestnut hover:underline"
          >
            {device.name}
          </Link>
        </h3>
        <Value signal={signal} />
        <HoldWords signal={signal} rules={rules} hold={hold} canResume={isOperator} />
      </div>
      <div className="grid gap-3">
        <ol className="grid gap-2">
          {rules.map((rule, place) => (
            <li key={rule.id} className="grid gap-x-4 gap-y-1 sm:grid-cols-[1fr_auto] sm:items-start">
              <div className="min-w-0">
                <p className="flex flex-wrap items-center gap-x-2 text-sm">
                  {rules.length > 1 && <span className="w-5 text-ink-soft tabular-nums">{place + 1}.</span>}
                  <Link
                    to={`/rules/${rule.id}`}
                    className="font-semibold hover:text-chestnut hover:underline"
                  >
                    {rule.name}
                  </Link>
                  {rule.mode !== 'off' && <span className="text-ink-soft">{stateWords(rule)}</span>}
                </p>
                <p className={`text-sm text-ink-soft ${rules.length > 1 ? 'sm:pl-7' : ''}`}>
                  {ruleSentence(rule.rule, signal, nameOf)}
                </p>
              </div>
              <div className="flex items-center gap-1">
                {isOwner && place > 0 && (
                  <IconButton name={`Before the one above: ${rule.name}`} onClick={() => move(place, -1)}>
                    <ArrowUp aria-hidden="true" className="size-4" />
                  </IconButton>
                )}
                {isOwner && place < rules.length - 1 && (
                  <IconButton name={`Behind the one below: ${rule.name}`} onClick={() => move(place, 1)}>
                    <ArrowDown aria-hidden="true" className="size-4" />
                  </IconButton>
                )}
                <RuleModeSwitch rule={rule} signal={signal} />
              </div>
            </li>
          ))}
        </ol>
        {error && <Notice tone="trouble" title={problemText(error)} />}
        {isOwner && (
          <p className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm text-ink-soft">
            <label className="flex items-center gap-2">
              A hand comes first for
              <select
                className="rounded border border-rule-strong bg-sheet px-2 py-1 text-ink"
                value={handFor}
                disabled={isLoading}
                onChange={({ target }) => put(ids, Number(target.value))}
              >
                {[...new Set([...handTimes, handFor])]
                  .sort((a, b) => a - b)
                  .map((seconds) => (
                    <option key={seconds} value={seconds}>
                      {seconds === 0 ? 'no time' : lengthWords(seconds)}
                    </option>
                  ))}
              </select>
            </label>
            <Link to={`/rules/new/${signal.id}`} className="font-semibold text-chestnut hover:underline">
              Another rule
            </Link>
          </p>
        )}
      </div>
    </section>
  )
}

const stateWords = ({ isActing, isUnknown, mode }: StandingRule): string => {
  const would = mode === 'trial' ? 'would act' : 'acts'
  const rests = mode === 'trial' ? 'would rest' : 'rests'
  const does = isActing === null ? 'leaves it' : isActing ? would : rests
  return isUnknown ? `does not know: ${does}` : does
}
