import type { BodyOf, routes } from '@jaunty-sparrow/contract'
import { FileUp, Plus } from 'lucide-react'
import { useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { useCreateKitMutation } from './kitsApi.ts'
import { shippedKits } from './shippedKits.ts'

/** A kit has at most 200 signals and a picture; a file of more is none, bytes. */
const largestFile = 1_300_000

/** Begins a kit: an empty one, or one that came as a file. */
export function NewKit() {
  const [create, { error, isLoading }] = useCreateKitMutation()
  const [unreadable, setUnreadable] = useState<string>()
  const file = useRef<HTMLInputElement>(null)
  const navigate = useNavigate()
  const make = async (body: BodyOf<typeof routes.createKit>) => {
    const { id } = await create(body).unwrap()
    await navigate(`/bench/kits/${id}`)
  }
  const take = async (chosen: File) => {
    setUnreadable(undefined)
    if (chosen.size > largestFile) return setUnreadable(`${chosen.name} is too large for a kit.`)
    let body: unknown
    try {
      body = JSON.parse(await chosen.text())
    } catch {
      return setUnreadable(`${chosen.name} holds no JSON; a kit is kept as a file on its own page.`)
    }
    // What it holds is checked by the server, which says what is wrong.
    await make(body as BodyOf<typeof routes.createKit>)
  }
  return (
    <div className="flex flex-wrap items-center gap-2">
      <input
        ref={file}
        type="file"
        accept="application/json,.json"
        className="sr-only"
        tabIndex={-1}
        aria-label="A kit as a file"
        onChange={({ target }) => {
          const [chosen] = target.files ?? []
          target.value = ''
          if (chosen) take(chosen).catch(() => undefined)
        }}
      />
      <Button weight="quiet" disabled={isLoading} onClick={() => file.current?.click()}>
        <FileUp aria-hidden="true" className="size-4" />
        From a file
      </Button>
      <select
        aria-label="Begin from a kit that is ready"
        className="min-h-9 rounded-md border border-rule-strong bg-sheet px-2 text-sm"
        value=""
        disabled={isLoading}
        onChange={({ target }) => {
          const chosen = shippedKits.find(({ name }) => name === target.value)
          if (chosen) void make(chosen).catch(() => undefined)
        }}
      >
        <option value="" disabled>
          Begin from …
        </option>
        {shippedKits.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <Button
        weight="strong"
        disabled={isLoading}
        onClick={() => void make({ name: 'New kit', cadence: null, signals: [] }).catch(() => undefined)}
      >
        <Plus aria-hidden="true" className="size-4" />
        New kit
      </Button>
      {(unreadable || error) && (
        <div className="basis-full">
          <Notice tone="trouble" title={unreadable ?? problemText(error)} />
        </div>
      )}
    </div>
  )
}
