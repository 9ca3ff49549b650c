import type { Kit } from '@jaunty-sparrow/contract'

/** How a device of a kit is wired, and what is to be minded, for those who look. */
export const Built = ({ kit: { wiring, notes } }: { kit: Pick<Kit, 'wiring' | 'notes'> }) => (
  <>
    <ul className="divide-y divide-rule empty:hidden">
      {wiring.map(({ pin, wire, part }) => (
        <li key={`${pin} ${wire} ${part}`} className="grid max-w-2xl grid-cols-3 gap-2 py-1.5">
          <span>{pin}</span>
          <span>{wire}</span>
          <span>{part}</span>
        </li>
      ))}
    </ul>
    <p className="max-w-prose whitespace-pre-wrap">
      {notes || (wiring.length === 0 && 'Nobody has written how it is wired, or what to mind.')}
    </p>
  </>
)
