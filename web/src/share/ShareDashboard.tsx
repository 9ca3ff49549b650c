import type { KeptDashboard } from '@jaunty-sparrow/contract'
import { instrumentOf } from '@jaunty-sparrow/drawings/registry'
import { ShareSheet } from './ShareSheet.tsx'
import { useCreateDashboardLinkMutation, useDashboardLinksQuery } from './shareApi.ts'

const asked = { pollingInterval: 5000 }

/** A dashboard for anybody who has a link, one instrument of it to embed, or a still picture by its address. */
export function ShareDashboard({
  dashboard: { id: dashboardId, name, shows },
  onClose,
}: {
  readonly dashboard: KeptDashboard
  readonly onClose: () => void
}) {
  const { data: links = [] } = useDashboardLinksQuery({ dashboardId }, asked)
  const [create] = useCreateDashboardLinkMutation()
  const instruments = shows.chapters.flatMap(({ title, instruments: there }) =>
    (there ?? []).map((instrument, place) => ({
      id: instrument.id,
      name:
        instrument.title ??
        `${title || 'Chapter'}, ${(instrumentOf(instrument.kind)?.name ?? instrument.kind).toLowerCase()} ${place + 1}`,
    })),
  )
  return (
    <ShareSheet
      title={name}
      parts={instruments}
      links={links}
      partOf={({ instrumentId }) => instrumentId}
      hasPicture
      onMake={({ part, ...stated }) =>
        create({ dashboardId, body: { ...stated, instrumentId: part } }).unwrap()
      }
      onClose={onClose}
    />
  )
}
