import type { Device, KeptDashboard } from '@jaunty-sparrow/contract'
import type { Dashboard } from '@jaunty-sparrow/core/dashboard'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { DashboardView } from './DashboardView.tsx'
import { useDashboardVersionsQuery } from './dashboardsApi.ts'

interface VersionsSheetProps {
  readonly dashboard: KeptDashboard
  readonly devices: readonly Device[]
  readonly timeZone: string
  readonly onTake: (shows: Dashboard) => void
  readonly onClose: () => void
}

/** What a dashboard was before: to be looked at, and gone back to. */
export function VersionsSheet({ dashboard, devices, timeZone, onTake, onClose }: VersionsSheetProps) {
  const { data: versions, error } = useDashboardVersionsQuery(dashboard.id)
  const [chosen, setChosen] = useState<number>()
  const when = dateFormat({ timeZone, dateStyle: 'medium', timeStyle: 'short' })
  const looked = versions?.find(({ version }) => version === chosen)
  return (
    <Sheet open wide title={`Versions of ${dashboard.name}`} onClose={onClose}>
      {error !== undefined && <Notice tone="trouble" title={problemText(error)} />}
      <ul className="mb-4 grid">
        {versions?.map(({ version, at, by, shows }) => (
          <li key={version} className="flex flex-wrap items-center gap-3 border-b border-rule py-1.5 text-sm">
            <span className="flex-1">
              {when.format(at)}
              {by !== null && `, by ${by}`}
              {version === dashboard.version && ' · as it is published'}
            </span>
            <Button weight="quiet" onClick={() => setChosen(version)}>
              Look
            </Button>
            <Button
              onClick={() => {
                onTake(shows)
                onClose()
              }}
            >
              Go back to it
            </Button>
          </li>
        ))}
      </ul>
      {looked && (
        <DashboardView shows={looked.shows} devices={devices} siteId={dashboard.siteId} timeZone={timeZone} />
      )}
    </Sheet>
  )
}
