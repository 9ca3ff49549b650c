import type { Site } from '@jaunty-sparrow/contract'
import { Pause, Play } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import { useMay } from '../people/useMay.ts'
import { type Moment, type Speed, speeds } from '../time/moment.ts'

const NoteSheet = lazy(async () => ({ default: (await import('../notes/NoteSheet.tsx')).NoteSheet }))

/** Going through the past: run on from a moment, faster or slower, write down what was, or turn to another day. */
export function PlayBar({ moment, site }: { readonly moment: Moment; readonly site: Site }) {
  const [speed, setSpeed] = useState<Speed>(60)
  const [isNoting, setNoting] = useState(false)
  const mayNote = useMay('operator', site.id)
  const isPlaying = moment.speed !== undefined
  return (
    <>
      <button
        type="button"
        aria-label={isPlaying ? 'Hold' : 'Play on from here'}
        className="inline-grid size-8 place-items-center rounded-md text-chestnut hover:bg-well"
        onClick={() => (isPlaying ? moment.pause() : moment.play(speed))}
      >
        {isPlaying ? (
          <Pause aria-hidden="true" className="size-4" />
        ) : (
          <Play aria-hidden="true" className="size-4" />
        )}
      </button>
      <select
        aria-label="How fast"
        className="min-h-8 rounded-md bg-transparent text-sm text-chestnut"
        value={speed}
        onChange={(event) => {
          const next = Number(event.target.value) as Speed
          setSpeed(next)
          if (isPlaying) moment.play(next)
        }}
      >
        {speeds.map((each) => (
          <option key={each} value={each}>
            {each}×
          </option>
        ))}
      </select>
      <input
        type="date"
        aria-label="Another day"
        className="hidden min-h-8 w-8 rounded-md bg-transparent text-sm text-chestnut sm:block [&::-webkit-datetime-edit]:hidden"
        value={new Date(moment.at ?? 0).toISOString().slice(0, 10)}
        onChange={({ target: { value } }) => {
          const noon = Date.parse(`${value}T12:00:00Z`)
          if (Number.isFinite(noon)) moment.show(noon)
        }}
      />
      {mayNote && (
        <button
          type="button"
          className="min-h-8 rounded-md px-2 text-sm font-semibold text-chestnut hover:bg-well"
          onClick={() => setNoting(true)}
        >
          Note
        </button>
      )}
      <Suspense>
        {isNoting && moment.at !== undefined && (
          <NoteSheet at={moment.at} siteId={site.id} onClose={() => setNoting(false)} />
        )}
      </Suspense>
    </>
  )
}
