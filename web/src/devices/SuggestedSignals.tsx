import type { Device, Signal } from '@jaunty-sparrow/contract'
import { fieldLabel } from '@jaunty-sparrow/core/message'
import { describeAge } from '@jaunty-sparrow/core/time'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { latestOf, useLatest } from '../live/useLive.ts'
import { Value } from '../live/Value.tsx'
import { AdoptField } from '../signals/AdoptField.tsx'
import { useChangeSignalDefinitionMutation } from '../signals/signalsApi.ts'
import { useNow } from '../time/clock.ts'
import { type Proposal, proposals } from './proposal.ts'

/** What the device talks about that nobody has described: one press makes a signal of it, with all it said already. */
export function SuggestedSignals({ device, canChange }: { device: Device; canChange: boolean }) {
  const suggested = device.signals.filter(({ state }) => state === 'suggested')
  const [change, { error, isLoading }] = useChangeSignalDefinitionMutation()
  // What it says may come after what it is called: proposed anew every second.
  useNow()
  if (suggested.length === 0) return null
  const proposed = proposals(suggested, latestOf)
  const acceptAll = async () => {
    for (const { id, definitionId } of suggested) {
      const answer = await change({ definitionId, body: { state: 'accepted', ...proposed.get(id) } })
      if (answer.error) return
    }
  }
  return (
    <section
      aria-label="Suggested signals"
      className="grid gap-3 rounded-lg border border-dashed border-chestnut bg-sheet p-4"
    >
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <div className="grid flex-1 gap-0.5">
          <h2 className="text-lg">Is this worth watching?</h2>
          <p className="text-sm text-ink-soft">
            {suggested.length === 1 ? 'The device sends a field' : 'The device sends fields'} that no signal
            is read from yet. Nothing is lost meanwhile: what came in already is kept.
          </p>
        </div>
        {canChange && suggested.length > 1 && (
          <Button weight="strong" disabled={isLoading} onClick={() => void acceptAll()}>
            Accept all {suggested.length}
          </Button>
        )}
      </div>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      <ul className="divide-y divide-rule">
        {suggested.map((signal) => (
          <Suggestion
            key={signal.id}
            device={device}
            signal={signal}
            proposal={proposed.get(signal.id) ?? {}}
            canChange={canChange}
          />
        ))}
      </ul>
    </section>
  )
}

const kinds: Readonly<Record<Signal['kind'], string>> = {
  number: 'a number',
  switch: 'a switch',
  choice: 'one of several states',
  text: 'a text',
  position: 'a position',
  momentary: 'something to be triggered',
}

interface SuggestionProps {
  readonly device: Device
  readonly signal: Signal
  readonly proposal: Proposal
  readonly canChange: boolean
}

function Suggestion({ device, signal, proposal, canChange }: SuggestionProps) {
  const now = useNow()
  const latest = useLatest(signal)
  const [change, { error, isLoading }] = useChangeSignalDefinitionMutation()
  const decide = (state: 'accepted' | 'ignored') =>
    void change({
      definitionId: signal.definitionId,
      body: { state, ...(state === 'accepted' && proposal) },
    })
  return (
    <li className="grid gap-2 py-2.5">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <div className="min-w-40 flex-1">
          <p className="font-semibold">{signal.name}</p>
          <p className="text-sm text-ink-soft">
            field <code className="font-mono text-[0.8125rem]">{fieldLabel(signal.field)}</code>,{' '}
            {kinds[signal.kind]}
            {latest && `, ${describeAge(now - latest.receivedAt)}`}
            {proposal.unit && `; by its name and value in ${unitSymbol(proposal.unit)}, a guess`}
            {proposal.group && `; one of “${proposal.group}”`}
          </p>
        </div>
        <span className="inline-flex items-baseline gap-1">
          <Value signal={signal} />
          {proposal.unit && (
            <span className="text-sm text-ink-soft italic">{unitSymbol(proposal.unit)}?</span>
          )}
        </span>
        {canChange && (
          <div className="flex flex-wrap items-center gap-2">
            <AdoptField device={device} field={signal.field} kind={signal.kind} />
            <Button
              weight="quiet"
              disabled={isLoading}
              onClick={() => decide('ignored')}
              aria-label={`Ignore ${signal.name}`}
            >
              Ignore
            </Button>
            <Button
              weight="strong"
              disabled={isLoading}
              onClick={() => decide('accepted')}
              aria-label={`Accept ${signal.name}`}
            >
              Accept
            </Button>
          </div>
        )}
      </div>
      {error && <Notice tone="trouble" title={problemText(error)} />}
    </li>
  )
}
