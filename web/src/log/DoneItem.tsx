import type { DatedEvent } from '@jaunty-sparrow/contract'
import { Fragment } from 'react'
import { Link } from 'react-router'
import { dateFormat } from '../language/dateFormat.ts'
import { differences } from './changeWords.ts'

const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'short' })

interface DoneItemProps {
  readonly event: DatedEvent
  /** The device it is about, where that is not said already. */
  readonly device?: { readonly name: string; readonly address: string } | undefined
}

/** One thing that was done: when, by whom, and what was before and after. */
export function DoneItem({ event: { at, person, token, says, change }, device }: DoneItemProps) {
  const changed = differences(change)
  return (
    <li className="grid gap-x-4 gap-y-0.5 py-2.5 sm:grid-cols-[9rem_1fr]">
      <span className="text-ink-soft">{moment.format(at)}</span>
      <div className="grid min-w-0 gap-1">
        <p>
          <strong>{person}</strong>
          {token !== null && <span className="text-ink-soft"> by “{token}”</span>}: {says}{' '}
          {device && (
            <Link to={`/devices/${device.address}`} className="text-chestnut underline">
              {device.name}
            </Link>
          )}
        </p>
        {changed.length > 0 && (
          <dl className="grid grid-cols-[auto_1fr] gap-x-3 text-ink-soft">
            {changed.map(({ what, before, after }) => (
              <Fragment key={what}>
                <dt>{what}</dt>
                <dd className="min-w-0 break-words text-ink">
                  {before !== undefined && <s className="text-ink-soft">{before}</s>} {after}
                </dd>
              </Fragment>
            ))}
          </dl>
        )}
      </div>
    </li>
  )
}
