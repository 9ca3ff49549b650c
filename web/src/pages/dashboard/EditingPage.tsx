import type { Device, KeptDashboard, Site } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { isConflict, problemText } from '../../api/problemText.ts'
import { DashboardEditor } from '../../dashboards/DashboardEditor.tsx'
import {
  asSent,
  useCreateDashboardMutation,
  usePublishDashboardMutation,
} from '../../dashboards/dashboardsApi.ts'
import { type Seen, SeenBy } from '../../dashboards/SeenBy.tsx'
import { useDraft } from '../../dashboards/useDraft.ts'
import { VersionsSheet } from '../../dashboards/VersionsSheet.tsx'
import { Button } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { useMay } from '../../people/useMay.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'

interface EditingPageProps {
  readonly dashboard: KeptDashboard
  readonly devices: readonly Device[]
  readonly site: Site
  readonly onDone: () => void
}

/** Changing a dashboard: what one does stays a draft until it is published. */
export function EditingPage({ dashboard, devices, site, onDone }: EditingPageProps) {
  const navigate = useNavigate()
  const draft = useDraft(dashboard)
  const { data: sites } = useSitesQuery()
  const [name, setName] = useState(dashboard.name)
  const [publish, { isLoading, error }] = usePublishDashboardMutation()
  const [create] = useCreateDashboardMutation()
  const [hasVersions, setVersions] = useState(false)
  const { id: dashboardId, siteId, version } = dashboard
  const [seen, setSeen] = useState<Seen>({ isMine: dashboard.isMine, role: dashboard.role })
  const isOwner = useMay('owner', siteId)
  const isBehind = draft.isChanged && draft.basedOn !== version
  const send = async (basedOn: number) => {
    const body = { basedOn, name: name.trim() || dashboard.name, ...seen, shows: asSent(draft.shows) }
    await publish({ dashboardId, body }).unwrap()
    draft.discard()
    onDone()
  }
  const keepAsAnother = async () => {
    const made = await create({
      siteId,
      name: `${name}, mine`,
      ...seen,
      shows: asSent(draft.shows),
    }).unwrap()
    draft.discard()
    void navigate(`/dashboards/${made.id}`)
  }
  const hasChanged =
    draft.isChanged ||
    name !== dashboard.name ||
    seen.isMine !== dashboard.isMine ||
    seen.role !== dashboard.role
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3">
      <input
        aria-label="Name of the dashboard"
        value={name}
        maxLength={80}
        onChange={(event) => setName(event.target.value)}
        className="w-full border-b border-dashed border-rule-strong bg-transparent font-display text-3xl font-semibold"
      />
      {isOwner && (
        <div className="max-w-sm">
          <SeenBy seen={seen} onChange={setSeen} />
        </div>
      )}
      {isBehind && (
        <Notice tone="trouble" title={`${dashboard.by ?? 'Somebody'} published this page meanwhile`}>
          Nothing of yours is lost. Look at theirs, publish yours over it (theirs stays among the versions),
          or keep yours as another page.
          <span className="mt-2 flex flex-wrap gap-2">
            <Button onClick={() => setVersions(true)}>Look at theirs</Button>
            <Button onClick={() => void send(version).catch(() => undefined)}>Publish mine over it</Button>
            <Button onClick={() => void keepAsAnother().catch(() => undefined)}>Keep mine as another</Button>
          </span>
        </Notice>
      )}
      {error !== undefined && !isConflict(error) && <Notice tone="trouble" title={problemText(error)} />}
      <DashboardEditor
        draft={draft}
        devices={devices}
        siteId={siteId}
        timeZone={site.timeZone}
        siteName={(of) => sites?.find(({ id }) => id === of)?.name ?? ''}
        aside={
          <>
            <Button weight="quiet" onClick={() => setVersions(true)}>
              Versions
            </Button>
            <Button
              weight="quiet"
              onClick={() => {
                draft.discard()
                onDone()
              }}
            >
              {hasChanged ? 'Throw the draft away' : 'Done'}
            </Button>
            {draft.isChanged && (
              <Button weight="quiet" onClick={onDone}>
                Go on later
              </Button>
            )}
            <Button
              weight="strong"
              disabled={!hasChanged || isLoading || isBehind}
              onClick={() => void send(draft.basedOn).catch(() => undefined)}
            >
              Publish
            </Button>
          </>
        }
      />
      {hasVersions && (
        <VersionsSheet
          dashboard={dashboard}
          devices={devices}
          timeZone={site.timeZone}
          onTake={draft.take}
          onClose={() => setVersions(false)}
        />
      )}
    </div>
  )
}
