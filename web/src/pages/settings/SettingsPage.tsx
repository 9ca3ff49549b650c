import { maySomewhere } from '@jaunty-sparrow/core/access'
import { NavLink, Outlet } from 'react-router'
import { useAccess, useMay } from '../../people/useMay.ts'

/** What is set once: oneself, sites, who may do what, how the server is reached and how it does. */
export function SettingsPage() {
  const access = useAccess()
  const ownsAll = useMay('owner')
  const ownsSome = maySomewhere(access, 'owner')
  const pages = [
    ['', 'You', true],
    ['sites', 'Sites', true],
    ['people', 'People', ownsSome],
    ['tokens', 'Tokens', true],
    ['reach', 'Reach', true],
    ['server', 'This server', ownsAll],
    ['log', 'What was done', ownsSome],
  ] as const
  return (
    <div className="grid content-start gap-x-10 gap-y-6 md:grid-cols-[10rem_1fr]">
      <nav aria-label="Settings" className="-mx-1 flex flex-wrap gap-1 text-sm md:grid md:content-start">
        {pages.map(
          ([to, name, isShown]) =>
            isShown && (
              <NavLink
                key={to}
                to={`/settings${to && `/${to}`}`}
                end
                className={({ isActive }) =>
                  `inline-flex min-h-9 items-center border-l-2 px-2.5 ${isActive ? 'border-chestnut font-semibold text-ink' : 'border-transparent text-ink-soft hover:text-ink'}`
                }
              >
                {name}
              </NavLink>
            ),
        )}
      </nav>
      <div className="min-w-0">
        <Outlet />
      </div>
    </div>
  )
}
