import { BellRing, Eye, type LucideIcon, ToggleRight, Wrench } from 'lucide-react'
import { type ComponentType, useEffect } from 'react'
import { Link, Outlet, useLocation } from 'react-router'
import { AlarmCount } from '../alarms/AlarmCount.tsx'
import { BenchTabs } from '../bench/BenchTabs.tsx'
import { ClockBanner } from '../condition/ClockBanner.tsx'
import { Sparrow } from '../design/Sparrow.tsx'
import { FindButton } from '../find/FindButton.tsx'
import { loadTraceChart } from '../signals/loadTraceChart.ts'
import { SiteStrip } from '../strip/SiteStrip.tsx'
import { LiveMark } from './LiveMark.tsx'
import { OfflineBanner } from './OfflineBanner.tsx'
import { PersonButton } from './PersonButton.tsx'
import { Spine } from './Spine.tsx'
import { useHome } from './useHome.ts'
import { useLine } from './useLine.ts'

/** The frame around every page for people who are signed in. It holds the line to the server open. */
export function Shell() {
  const { pathname } = useLocation()
  useLine()
  useHome()
  useEffect(() => {
    // Fetched ahead while there is nothing else to do, so that the first chart does not wait for it.
    const idle = setTimeout(() => void loadTraceChart(), 1500)
    return () => clearTimeout(idle)
  }, [])
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page starts at its top
  useEffect(() => {
    window.scrollTo(0, 0)
  }, [pathname])
  return (
    <div className="lg:grid lg:grid-cols-[15.5rem_1fr]">
      <a
        href="#main"
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-3"
      >
        Skip to the page
      </a>
      <aside className="sticky top-0 hidden h-dvh grid-rows-[auto_1fr] border-r border-rule lg:grid">
        <Brand className="px-5 py-5" />
        <Spine />
      </aside>
      <div className="flex min-h-dvh min-w-0 flex-col">
        <header className="sticky top-0 z-30 flex min-h-14 items-center gap-3 border-b border-rule bg-paper px-4 lg:px-8">
          <Brand className="lg:hidden" />
          <LiveMark />
          <nav aria-label="Pages" className="hidden flex-1 gap-1 pl-4 text-sm lg:flex">
            {areas.map((area) => (
              <AreaLink key={area.to} {...area} isOpen={area.owns.test(pathname)} />
            ))}
          </nav>
          <span className="flex-1 lg:hidden" />
          <FindButton />
          <PersonButton />
        </header>
        <SiteStrip />
        <OfflineBanner />
        <ClockBanner />
        <main id="main" className="mx-auto w-full max-w-6xl flex-1 px-4 py-6 pb-24 lg:px-8 lg:py-8">
          {isBench.test(pathname) && <BenchTabs />}
          <Outlet />
        </main>
        <nav
          aria-label="Pages"
          className="fixed inset-x-0 bottom-0 z-30 flex border-t border-rule bg-paper pb-[env(safe-area-inset-bottom)] lg:hidden"
        >
          {areas.map((area) => (
            <BarLink key={area.to} {...area} isOpen={area.owns.test(pathname)} />
          ))}
        </nav>
      </div>
    </div>
  )
}

/** Pages of the bench, which have its tabs above them. */
const isBench = /^\/(?:bench|arrivals|budget)(?:\/|$)/

interface Area {
  readonly to: string
  readonly name: string
  readonly Icon: LucideIcon
  /** The paths that belong to it. */
  readonly owns: RegExp
  /** How much waits there. */
  readonly Count?: ComponentType<{ readonly className?: string }>
}

/** In the order of the work. */
const areas: readonly Area[] = [
  { to: '/bench', name: 'Bench', Icon: Wrench, owns: /^\/(?:bench|arrivals|budget|devices\/new)(?:\/|$)/ },
  { to: '/', name: 'Watch', Icon: Eye, owns: /^\/(?:$|dashboards|instruments|devices\/(?!new$))/ },
  { to: '/act', name: 'Act', Icon: ToggleRight, owns: /^\/(?:act|rules)(?:\/|$)/ },
  { to: '/guard', name: 'Guard', Icon: BellRing, owns: /^\/guard(?:\/|$)/, Count: AlarmCount },
]

const AreaLink = ({ to, name, isOpen, Count }: Area & { isOpen: boolean }) => (
  <Link
    to={to}
    aria-current={isOpen ? 'page' : undefined}
    className={`inline-flex min-h-9 items-center rounded-md px-2.5 ${isOpen ? 'font-semibold text-ink underline decoration-chestnut decoration-2 underline-offset-6' : 'text-ink-soft hover:bg-well hover:text-ink'}`}
  >
    {name}
    {Count && <Count className="ml-1.5" />}
  </Link>
)

const BarLink = ({ to, name, Icon, isOpen, Count }: Area & { isOpen: boolean }) => (
  <Link
    to={to}
    aria-current={isOpen ? 'page' : undefined}
    className={`grid min-h-14 flex-1 justify-items-center gap-0.5 border-t-2 pt-2 pb-1.5 text-xs ${isOpen ? 'border-chestnut font-semibold text-ink' : 'border-transparent text-ink-soft'}`}
  >
    <span className="relative">
      <Icon aria-hidden="true" className="size-5" />
      {Count && <Count className="absolute -top-1.5 left-full ml-0.5 whitespace-nowrap" />}
    </span>
    {name}
  </Link>
)

const Brand = ({ className = '' }: { className?: string }) => (
  <Link
    to="/"
    aria-label="Jaunty Sparrow, all sites"
    className={`inline-flex items-center gap-2 ${className}`}
  >
    <Sparrow className="size-7 text-chestnut" />
    <span className="font-display text-lg leading-none font-semibold tracking-tight max-lg:sr-only">
      Jaunty Sparrow
    </span>
  </Link>
)
