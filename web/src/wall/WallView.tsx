import type { Device, KeptDashboard, Site } from '@jaunty-sparrow/contract'
import { nights } from '@jaunty-sparrow/core/sun'
import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from 'react'
import { DashboardView } from '../dashboards/DashboardView.tsx'
import { writingIn } from '../instruments/writing.ts'
import { useSessionQuery } from '../people/peopleApi.ts'
import { LiveMark } from '../shell/LiveMark.tsx'
import { OfflineBanner } from '../shell/OfflineBanner.tsx'
import { wear } from '../shell/theme.ts'
import { useBeat } from '../time/clock.ts'
import { useAwake } from './useAwake.ts'
import { type WallPage, wallPages } from './wallPages.ts'

/** So many px of the page are as high as the wall: its digits are then a twelfth of that. */
const wallHeight = 360
const headerHeight = 30
/** A page stays so long before the next one, ms. */
const turn = 15_000

interface WallViewProps {
  readonly dashboard: KeptDashboard
  readonly devices: readonly Device[]
  readonly site: Site
  /** What has to be known at once. */
  readonly urgent?: ReactNode
  readonly children: ReactNode
}

/** A dashboard that fills a screen without scrolling: what does not fit is shown page after page. */
export function WallView({ dashboard, devices, site, urgent, children }: WallViewProps) {
  const sheet = useRef<HTMLDivElement>(null)
  const [size, setSize] = useState({ width: window.innerWidth, height: window.innerHeight })
  const [pages, setPages] = useState<readonly WallPage[]>([])
  const problem = useAwake()
  const now = useBeat(turn)
  const minute = useBeat(60_000)
  const scale = size.height / wallHeight
  const isNight =
    site.lat !== null &&
    site.lon !== null &&
    nights(minute, minute + 1, { lat: site.lat, lon: site.lon }).length > 0
  const { data: session } = useSessionQuery()
  const theme = session?.state === 'signed-in' ? session.preferences.theme : 'system'
  // At night a wall is dark, and dimmed.
  useEffect(() => {
    if (isNight) wear('dark')
    return () => wear(theme)
  }, [isNight, theme])
  useLayoutEffect(() => {
    const measure = () => {
      setSize({ width: window.innerWidth, height: window.innerHeight })
      const next = wallPages(rowsOf(sheet.current), wallHeight - headerHeight - 8)
      setPages((before) => (JSON.stringify(before) === JSON.stringify(next) ? before : next))
    }
    measure()
    const observer = new ResizeObserver(measure)
    if (sheet.current) observer.observe(sheet.current)
    window.addEventListener('resize', measure)
    return () => {
      observer.disconnect()
      window.removeEventListener('resize', measure)
    }
  }, [])
  const shown = pages.length === 0 ? undefined : pages[Math.floor(now / turn) % pages.length]
  return (
    <div
      className={`fixed inset-0 overflow-hidden bg-paper text-ink ${isNight ? 'brightness-75' : ''}`}
      data-night={isNight}
    >
      <div
        className="origin-top-left px-3"
        style={{ width: size.width / scale, height: wallHeight, transform: `scale(${scale})` }}
      >
        <header className="flex items-center gap-3 text-xs" style={{ height: headerHeight }}>
          <h1 className="text-base">{dashboard.name}</h1>
          <span className="text-ink-soft">{writingIn(site.timeZone).clock(minute)} there</span>
          <span className="flex min-w-0 flex-1 items-center gap-3">
            {urgent}
            <span className="truncate text-ink-soft">{problem}</span>
          </span>
          {children}
          {pages.length > 1 && (
            <span className="text-ink-soft">
              {(Math.floor(now / turn) % pages.length) + 1} of {pages.length}
            </span>
          )}
          <LiveMark />
        </header>
        <OfflineBanner />
        <div className="overflow-hidden" style={{ height: shown?.height ?? wallHeight - headerHeight }}>
          {/* Chapters out of sight are measured too. */}
          <div
            ref={sheet}
            className="relative [&_article]:[content-visibility:visible]"
            style={{ transform: `translateY(${-(shown?.top ?? 0)}px)` }}
          >
            <DashboardView
              shows={dashboard.shows}
              devices={devices}
              siteId={site.id}
              timeZone={site.timeZone}
            />
          </div>
        </div>
      </div>
    </div>
  )
}

/** The rows of a page, each with what stands above it in its chapter, px of the page. */
function rowsOf(sheet: HTMLElement | null): { top: number; height: number }[] {
  return [...(sheet?.querySelectorAll<HTMLElement>('article') ?? [])].flatMap((article) => {
    const cells = [...article.querySelectorAll<HTMLElement>('[data-cell]')]
    const tops = [...new Set(cells.map(({ offsetTop }) => offsetTop))]
    return tops.map((top, row) => {
      const begin = row === 0 ? article.offsetTop : top
      const end = Math.max(
        ...cells
          .filter(({ offsetTop }) => offsetTop === top)
          .map(({ offsetTop, offsetHeight }) => offsetTop + offsetHeight),
      )
      return { top: begin, height: end - begin }
    })
  })
}
