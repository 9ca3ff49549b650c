import type { ReactNode } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from './Button.tsx'
import { Notice } from './Notice.tsx'
import { Sheet } from './Sheet.tsx'

interface SheetFormProps {
  readonly title: string
  readonly saveLabel: string
  readonly busy: boolean
  /** What the last attempt to save came back with. */
  readonly error: unknown
  /** Saves; the sheet closes when it resolves, and stays when it rejects. */
  readonly onSave: () => Promise<unknown>
  readonly onClose: () => void
  /** Whether it stays open when it was saved, as something is told then. */
  readonly keepOpen?: boolean
  /** A further button, at the other end of the row. */
  readonly aside?: ReactNode
  /** For what needs more room than a few fields. */
  readonly wide?: boolean
  readonly children: ReactNode
}

/** A sheet with fields to fill in, which closes when they are saved and says why when they cannot be. */
export const SheetForm = ({
  title,
  saveLabel,
  busy,
  error,
  onSave,
  onClose,
  keepOpen = false,
  aside,
  wide = false,
  children,
}: SheetFormProps) => (
  <Sheet open onClose={onClose} title={title} wide={wide}>
    <form
      className="grid grid-cols-[minmax(0,1fr)] gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        onSave().then(
          () => !keepOpen && onClose(),
          () => undefined,
        )
      }}
    >
      {children}
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
      <div className="flex justify-end gap-2">
        {aside && <span className="mr-auto">{aside}</span>}
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" weight="strong" disabled={busy}>
          {saveLabel}
        </Button>
      </div>
    </form>
  </Sheet>
)
