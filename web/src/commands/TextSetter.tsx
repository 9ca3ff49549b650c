import { signalTitle } from '@jaunty-sparrow/core/signal'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { HoldButton } from './HoldButton.tsx'
import type { SetterParts } from './setterParts.ts'

/** A text that is asked for when it is written to its end. */
export function TextSetter({ signal, holds, busy, ask }: SetterParts) {
  const [text, setText] = useState('')
  const send = () => {
    ask(text)
    setText('')
  }
  return (
    <form
      className="flex w-full max-w-md gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (!holds && text !== '') send()
      }}
    >
      <input
        aria-label={`${signalTitle(signal)}, to be asked for`}
        maxLength={200}
        value={text}
        onChange={({ target }) => setText(target.value)}
        className="min-w-0 flex-1 rounded-md border border-rule-strong bg-sheet px-2 py-1.5 text-sm"
      />
      {holds ? (
        <HoldButton disabled={busy || text === ''} onHeld={send}>
          Send
        </HoldButton>
      ) : (
        <Button type="submit" disabled={busy || text === ''}>
          Send
        </Button>
      )}
    </form>
  )
}
