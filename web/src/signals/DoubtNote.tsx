import type { Signal } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { signalTitle } from '../language/signalTitle.ts'
import { useChangeDoubtMutation } from './signalsApi.ts'

const day = dateFormat({ dateStyle: 'medium' })
const linkLook = 'font-semibold text-chestnut hover:underline'

/** Whether a signal is trusted, why not, and the way to say so. */
export function DoubtNote({ signal, canChange }: { signal: Signal; canChange: boolean }) {
  const [isAsking, setAsking] = useState(false)
  const [change, { isLoading }] = useChangeDoubtMutation()
  const { doubt } = signal
  if (!doubt && !canChange) return null
  return (
    <p className="text-sm text-ink-soft">
      {doubt ? (
        <>
          <strong className="text-late">doubtful</strong> since {day.format(doubt.at)}
          {doubt.person && ` by ${doubt.person}`}: {doubt.why}{' '}
          {canChange && (
            <button
              type="button"
              className={linkLook}
              disabled={isLoading}
              onClick={() => void change({ signalId: signal.id, body: { why: null } })}
            >
              Trust it again
            </button>
          )}
        </>
      ) : (
        <button
          type="button"
          className="rounded hover:text-chestnut hover:underline"
          aria-label={`Doubt ${signalTitle(signal)}`}
          onClick={() => setAsking(true)}
        >
          Doubt it …
        </button>
      )}
      {isAsking && <DoubtSheet signal={signal} onClose={() => setAsking(false)} />}
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
