import { NavLink } from 'react-router'

const pages = [
  ['/bench', 'Devices'],
  ['/bench/kits', 'Kits'],
  ['/arrivals', 'Arrivals'],
  ['/budget', 'Budget'],
] as const

/** What is done at the bench: describe devices, see what comes in, count what it costs. */
export const BenchTabs = () => (
  <nav aria-label="Bench" className="-mx-2 -mt-2 mb-6 flex gap-1 overflow-x-auto text-sm">
    {pages.map(([to, name]) => (
      <NavLink
        key={to}
        to={to}
        end={to === '/bench'}
        className={({ isActive }) =>
          `inline-flex min-h-9 shrink-0 items-center border-b-2 px-2 ${isActive ? 'border-chestnut font-semibold text-ink' : 'border-transparent text-ink-soft hover:text-ink'}`
        }
      >
        {name}
      </NavLink>
    ))}
  </nav>
)
