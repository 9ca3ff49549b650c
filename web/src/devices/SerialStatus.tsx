import type { SerialLine } from '@jaunty-sparrow/contract'
import { Cable } from 'lucide-react'
import { Notice } from '../design/Notice.tsx'

/** How the cable of a device is doing: quiet when all is well, else with what to do. */
export const SerialStatus = ({ line: { state, says } }: { line: SerialLine }) =>
  state === 'listening' ? (
    <p className="flex items-center gap-2 text-sm text-ink-soft">
      <Cable aria-hidden="true" className="size-4" />
      {says}
    </p>
  ) : (
    <Notice tone="trouble" title={says} />
  )
