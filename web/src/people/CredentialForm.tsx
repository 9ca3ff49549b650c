import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'

type Purpose = 'create' | 'join' | 'enter'

const says: Record<Purpose, string> = { create: 'Create the owner', join: 'Come in', enter: 'Sign in' }

interface CredentialFormProps {
  readonly purpose: Purpose
  readonly busy: boolean
  readonly error: unknown
  readonly onSubmit: (credential: { name: string; password: string }) => void
}

const shortest = 10

/** Name and password: to become the owner, or to come in. */
export function CredentialForm({ purpose, busy, error, onSubmit }: CredentialFormProps) {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const [tried, setTried] = useState(false)
  const creates = purpose !== 'enter'
  const tooShort = creates && tried && password.length < shortest
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        setTried(true)
        if (!creates || password.length >= shortest) onSubmit({ name, password })
      }}
    >
      <TextField
        label="Name"
        autoComplete="username"
        value={name}
        onChange={(event) => setName(event.target.value)}
        required
        maxLength={60}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete={creates ? 'new-password' : 'current-password'}
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        hint={creates ? `At least ${shortest} characters; a few words are easy to keep.` : undefined}
        error={tooShort ? `That is ${password.length} of at least ${shortest} characters.` : undefined}
        required
        maxLength={200}
      />
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
      <Button type="submit" weight="strong" disabled={busy} className="min-h-11">
        {says[purpose]}
      </Button>
    </form>
  )
}
