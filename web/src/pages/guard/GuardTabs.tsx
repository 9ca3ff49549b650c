import { NavLink } from 'react-router'

const pages = [
  ['/guard', 'Alarms'],
  ['/guard/told', 'Who is told'],
  ['/guard/sent', 'What was sent'],
  ['/guard/record', 'How the alarms do'],
] as const

/** What belongs to guarding: the alarms, and how well they do. */
export const GuardTabs = () => (
  <nav aria-label="Guard" className="-mx-2 -mt-2 flex gap-1 overflow-x-auto text-sm">
    {pages.map(([to, name]) => (
      <NavLink
        key={to}
        to={to}
        end
        className={({ isActive }) =>
          `inline-flex min-h-9 shrink-0 items-center border-b-2 px-2 ${isActive ? 'border-chestnut font-semibold text-ink' : 'border-transparent text-ink-soft hover:text-ink'}`
        }
      >
        {name}
      </NavLink>
    ))}
  </nav>
)
