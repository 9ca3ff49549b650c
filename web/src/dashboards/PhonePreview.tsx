import type { Device } from '@jaunty-sparrow/contract'
import type { Dashboard } from '@jaunty-sparrow/core/dashboard'
import { ChevronDown, ChevronUp } from 'lucide-react'
import { IconButton } from '../design/IconButton.tsx'
import { DashboardView } from './DashboardView.tsx'

interface PhonePreviewProps {
  readonly shows: Dashboard
  readonly devices: readonly Device[]
  readonly siteId: number
  readonly timeZone: string
  /** @param by one place on, or back */
  readonly onMove: (id: string, by: 1 | -1) => void
}

/** The same page as a phone reads it; what is moved here has another place on the phone only. */
export const PhonePreview = ({ shows, devices, siteId, timeZone, onMove }: PhonePreviewProps) => (
  <section aria-label="On a phone" className="max-w-[390px] border-x border-rule px-4">
    <p className="py-2 text-sm text-ink-soft">On a phone. What you move here moves there only.</p>
    <DashboardView
      shows={shows}
      devices={devices}
      siteId={siteId}
      timeZone={timeZone}
      edit={{
        ofInstrument: (id, title) => (
          <span className="ml-auto flex">
            <IconButton name={`${title}: earlier on the phone`} onClick={() => onMove(id, -1)}>
              <ChevronUp aria-hidden="true" className="size-4" />
            </IconButton>
            <IconButton name={`${title}: later on the phone`} onClick={() => onMove(id, 1)}>
              <ChevronDown aria-hidden="true" className="size-4" />
            </IconButton>
          </span>
        ),
        ofChapter: () => <span />,
        around: (_id, _chapter, children) => children,
      }}
    />
  </section>
)
