import { useEffect } from 'react'
import { Link, NavLink, Outlet, useLocation } from 'react-router'
import { ClockBanner } from '../condition/ClockBanner.tsx'
import { Sparrow } from '../design/Sparrow.tsx'
import { live } from '../live/connection.ts'
import { loadTraceChart } from '../signals/loadTraceChart.ts'
import { SiteStrip } from '../strip/SiteStrip.tsx'
import { LiveMark } from './LiveMark.tsx'
import { OfflineBanner } from './OfflineBanner.tsx'
import { PersonButton } from './PersonButton.tsx'
import { Spine } from './Spine.tsx'

/** The frame around every page for people who are signed in. It holds the line to the server open. */
export function Shell() {
  const { pathname } = useLocation()
  useEffect(() => {
    live.open()
    // Fetched ahead while there is nothing else to do, so that the first chart does not wait for it.
    const idle = setTimeout(() => void loadTraceChart(), 1500)
    return () => {
      clearTimeout(idle)
      live.close()
    }
  }, [])
  useEffect(() => live.wantPresence(), [])
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
          <nav
            aria-label="Pages"
            className="flex flex-1 justify-center gap-1 text-sm lg:justify-start lg:pl-4"
          >
            <PageLink to="/" name="Sites" />
            <PageLink to="/arrivals" name="Arrivals" />
          </nav>
          <PersonButton />
        </header>
        <SiteStrip />
        <OfflineBanner />
        <ClockBanner />
        <main id="main" className="mx-auto w-full max-w-6xl flex-1 px-4 py-6 lg:px-8 lg:py-8">
          <Outlet />
        </main>
      </div>
    </div>
  )
}

const PageLink = ({ to, name }: { to: string; name: string }) => (
  <NavLink
    to={to}
    end
    className={({ isActive }) =>
      `inline-flex min-h-9 items-center rounded-md px-2.5 ${isActive ? 'font-semibold text-ink underline decoration-chestnut decoration-2 underline-offset-6' : 'text-ink-soft hover:bg-well hover:text-ink'}`
    }
  >
    {name}
  </NavLink>
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
