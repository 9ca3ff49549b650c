import { X } from 'lucide-react'
import { Dialog } from 'radix-ui'
import type { ReactNode } from 'react'

interface SheetProps {
  readonly open: boolean
  readonly onClose: () => void
  readonly title: string
  /** For what needs more room than a few fields. */
  readonly wide?: boolean
  readonly children: ReactNode
}

/** A question laid over the page: focus goes in, Escape leads out, and back to where it came from. */
export const Sheet = ({ open, onClose, title, wide = false, children }: SheetProps) => (
  <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
    <Dialog.Portal>
      <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
      <Dialog.Content
        aria-describedby={undefined}
        className={`fixed inset-x-4 top-[6dvh] z-50 mx-auto max-h-[88dvh] overflow-auto rounded-lg border border-rule bg-sheet p-5 shadow-xl ${wide ? 'max-w-4xl' : 'max-w-md'}`}
      >
        <div className="mb-4 flex items-start justify-between gap-4">
          <Dialog.Title className="text-lg">{title}</Dialog.Title>
          <Dialog.Close
            aria-label="Close"
            className="-m-1.5 rounded p-1.5 text-ink-soft hover:bg-well hover:text-ink"
          >
            <X aria-hidden="true" className="size-5" />
          </Dialog.Close>
        </div>
        {children}
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
)
