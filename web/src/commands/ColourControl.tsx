import type { Signal } from '@jaunty-sparrow/contract'
import { usualControl } from '@jaunty-sparrow/core/signal'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { useMay } from '../people/useMay.ts'
import { useRequestCommandsMutation } from './commandsApi.ts'
import { HoldButton } from './HoldButton.tsx'
import { Outcome } from './Outcome.tsx'

interface ColourControlProps {
  /** Red, green and blue. */
  readonly signals: readonly Signal[]
  readonly siteId: number
}

/** The light of three channels as one thing to choose; each is asked and confirmed on its own. */
export function ColourControl({ signals, siteId }: ColourControlProps) {
  const controls = signals.map(({ control }) => control ?? usualControl)
  const isOwner = useMay('owner', siteId)
  const isOperator = useMay('operator', siteId)
  const may = controls.some(({ role }) => role === 'owner') ? isOwner : isOperator
  const [request, { isLoading }] = useRequestCommandsMutation()
  const [colour, setColour] = useState('#ffffff')
  const [refused, setRefused] = useState<readonly string[]>([])
  const [error, setError] = useState<unknown>()
  if (!may || signals.length !== 3 || signals.some(({ origin }) => origin !== 'controlled')) return null
  const ask = async () => {
    setError(undefined)
    const told = await Promise.all(
      signals.map((signal, place) => {
        const byte = Number.parseInt(colour.slice(1 + 2 * place, 3 + 2 * place), 16)
        return request({ signals: [signal.id], value: openedTo(linear(byte / 255), signal) }).unwrap()
      }),
    ).catch((failed: unknown) => {
      setError(failed)
      return []
    })
    setRefused(told.flatMap(([each]) => each?.refused ?? []))
  }
  return (
    <div className="grid justify-items-start gap-1.5" data-control={signals[0]?.id}>
      <fieldset className="flex items-center gap-2">
        <legend className="sr-only">Set the colour</legend>
        <input
          type="color"
          aria-label="Colour to be asked for"
          value={colour}
          onChange={({ target }) => setColour(target.value)}
          className="h-9 w-14 rounded-md border border-rule-strong bg-sheet"
        />
        {controls.some(({ holds }) => holds) ? (
          <HoldButton disabled={isLoading} onHeld={() => void ask()}>
            Set it
          </HoldButton>
        ) : (
          <Button disabled={isLoading} onClick={() => void ask()}>
            Set it
          </Button>
        )}
      </fieldset>
      {refused.map((why) => (
        <p key={why} role="alert" className="text-sm font-semibold">
          Not sent: {why}
        </p>
      ))}
      {error !== undefined && <Notice tone="trouble" title={problemText(error)} />}
      {signals.map((signal) => (
        <Outcome key={signal.id} signal={signal} onlyTrouble />
      ))}
    </div>
  )
}

/** What light a byte of sRGB stands for, 0..1 (IEC 61966-2-1). */
const linear = (share: number): number =>
  share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4

/** How far a channel is opened for a share of its light, in its unit and by its step. */
function openedTo(share: number, { range, control }: Signal): number {
  const { low, high } = { low: range.low ?? 0, high: range.high ?? 100 }
  const step = control?.step ?? (high - low) / 100
  return Math.min(high, low + Math.round((share * (high - low)) / step) * step)
}
