import type { Signal } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { useState } from 'react'
import { TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { useChangeDoubtMutation } from './signalsApi.ts'

const day = dateFormat({ dateStyle: 'medium' })

interface DoubtProps {
  readonly signal: Signal
  readonly canChange: boolean
}

/** Says that a signal is not to be trusted. */
export function DoubtButton({ signal }: Pick<DoubtProps, 'signal'>) {
  const [isAsking, setAsking] = useState(false)
  if (signal.doubt) return null
  return (
    <>
      <button
        type="button"
        title="Doubt it"
        aria-label={`Doubt ${signalTitle(signal)}`}
        className="rounded px-1.5 py-0.5 hover:bg-well hover:text-chestnut"
        onClick={() => setAsking(true)}
      >
        ?
      </button>
      {isAsking && <DoubtSheet signal={signal} onClose={() => setAsking(false)} />}
    </>
  )
}

/** Why a signal is not trusted, since when and by whom. */
export function DoubtNote({ signal, canChange }: DoubtProps) {
  const [change, { isLoading }] = useChangeDoubtMutation()
  const { doubt } = signal
  if (!doubt) return null
  return (
    <p className="text-sm text-ink-soft">
      <strong className="text-late">doubtful</strong> since {day.format(doubt.at)}
      {doubt.person && ` by ${doubt.person}`}: {doubt.why}{' '}
      {canChange && (
        <button
          type="button"
          className="font-semibold text-chestnut hover:underline"
          disabled={isLoading}
          onClick={() => void change({ signalId: signal.id, body: { why: null } })}
        >
          Trust it again
        </button>
      )}
    </p>
  )
}

function DoubtSheet({ signal, onClose }: { signal: Signal; onClose: () => void }) {
  const [why, setWhy] = useState('')
  const [change, { error, isLoading }] = useChangeDoubtMutation()
  return (
    <SheetForm
      title={`Doubt ${signalTitle(signal)}`}
      saveLabel="Mark it doubtful"
      busy={isLoading}
      error={error}
      onSave={() => change({ signalId: signal.id, body: { why } }).unwrap()}
      onClose={onClose}
    >
      <TextField
        label="Why it is not to be trusted"
        hint="Shown wherever its value is, until somebody trusts it again."
        value={why}
        onChange={({ target }) => setWhy(target.value)}
        required
        maxLength={500}
        autoFocus
      />
    </SheetForm>
  )
}
