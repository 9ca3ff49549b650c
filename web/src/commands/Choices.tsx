import { signalTitle } from '@jaunty-sparrow/core/signal'
import { useMemo } from 'react'
import { useLatest } from '../live/useLive.ts'
import { HoldButton } from './HoldButton.tsx'
import type { SetterParts } from './setterParts.ts'
import { useWishes } from './useWishes.ts'

interface ChoicesProps extends SetterParts {
  readonly choices: readonly { readonly code: number; readonly name: string }[]
}

/** States side by side: the one it is in is inked, the one it is asked for has a dashed edge. */
export function Choices({ signal, choices, holds, busy, ask }: ChoicesProps) {
  const latest = useLatest(signal)
  const asked = useWishes(useMemo(() => [signal], [signal])).get(signal.id)
  return (
    <fieldset className="flex flex-wrap gap-1.5">
      <legend className="sr-only">Set {signalTitle(signal)}</legend>
      {choices.map(({ code, name }) => {
        const isNow = latest?.value === code
        const isAsked = asked?.value === code
        if (holds && !isNow)
          return (
            <HoldButton key={code} disabled={busy} onHeld={() => ask(code)}>
              {name}
            </HoldButton>
          )
        return (
          <button
            key={code}
            type="button"
            aria-pressed={isNow}
            aria-label={isAsked && !isNow ? `${name}, asked for` : name}
            disabled={busy}
            className={`min-h-9 min-w-14 rounded-md border px-3 text-sm font-semibold ${
              isNow
                ? 'border-ink bg-ink text-paper'
                : isAsked
                  ? 'border-2 border-dashed border-chestnut text-chestnut'
                  : 'border-rule-strong bg-sheet text-chestnut hover:border-chestnut'
            }`}
            onClick={() => ask(code)}
          >
            {name}
          </button>
        )
      })}
    </fieldset>
  )
}
