import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { useSessionQuery } from '../people/peopleApi.ts'
import { useMay } from '../people/useMay.ts'
import { useDeleteNoteMutation } from './notesApi.ts'

interface NoteDetailProps {
  readonly note: {
    readonly id: number
    readonly at: number
    readonly says: string
    readonly person: string | null
  }
  readonly timeZone: string
  readonly siteId: number
  readonly onClose: () => void
}

/** A note that was written down: all of it, by whom, and the way to take it back. */
export function NoteDetail({ note: { id, at, says, person }, timeZone, siteId, onClose }: NoteDetailProps) {
  const { data: session } = useSessionQuery()
  const [remove, { isLoading, error }] = useDeleteNoteMutation()
  const isOwner = useMay('owner', siteId)
  const isOperator = useMay('operator', siteId)
  const isOwn = session?.state === 'signed-in' && session.person.name === person
  const takeBack = () =>
    remove(id)
      .unwrap()
      .then(onClose, () => undefined)
  return (
    <Sheet open onClose={onClose} title="A note">
      <p className="whitespace-pre-line">{says}</p>
      <p className="mt-2 text-sm text-ink-soft">
        {dateFormat({ timeZone, dateStyle: 'medium', timeStyle: 'short' }).format(at)}
        {person !== null && `, by ${person}`}
      </p>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {(isOwner || (isOwn && isOperator)) && (
        <div className="mt-4 flex justify-end">
          <Button disabled={isLoading} onClick={() => void takeBack()}>
            Take it back
          </Button>
        </div>
      )}
    </Sheet>
  )
}
