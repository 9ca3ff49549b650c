import type { Signal } from '@jaunty-sparrow/contract'
import { EllipsisVertical } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { Link } from 'react-router'
import { AlarmSign } from '../../alarms/AlarmSign.tsx'
import { priorityWords, saysOf, stateWords, titleOf } from '../../alarms/alarmWords.ts'
import type { WordedMove } from '../../alarms/WordSheet.tsx'
import { Button } from '../../design/Button.tsx'
import { MenuItem } from '../../design/MenuItem.tsx'
import { menuLook } from '../../design/menuLook.ts'
import { dateFormat } from '../../language/dateFormat.ts'
import { useMay } from '../../people/useMay.ts'
import { roughLength } from '../../rules/ruleWords.ts'
import { useNow } from '../../time/clock.ts'
import type { AlarmGroup } from './alarmGroups.ts'

interface AlarmRowProps {
  readonly group: AlarmGroup
  readonly signal: Signal | undefined
  readonly onSeen: () => void
  readonly onReset: () => void
  readonly onWake: () => void
  readonly onReturn: () => void
  readonly onAsk: (move: WordedMove) => void
  readonly onMoment: () => void
}

const today = dateFormat({ timeStyle: 'short' })
const another = dateFormat({
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
})
const clock = (at: number, now: number) => (Math.abs(now - at) < 20 * 3_600_000 ? today : another).format(at)

/** One alarm with what it explains: what is the case, since when, what to do, and the next step. */
export function AlarmRow(props: AlarmRowProps) {
  const { group, signal, onSeen, onReset, onWake, onReturn } = props
  const { alarm, explains } = group
  const { state, siteId } = alarm
  const now = useNow()
  // What is of the server is for those who look after all sites.
  const mayMove = useMay('operator', siteId ?? undefined)
  const mayTakeOut = useMay('owner', siteId ?? undefined)
  const isOpen = state === 'unacknowledged' || state === 'returned' || state === 'acknowledged'
  return (
    <li
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the list is worked by keys
      tabIndex={0}
      data-alarm={alarm.id}
      data-state={state}
      aria-label={`${titleOf(alarm, signal)}, ${stateWords[state]}`}
      className="grid grid-cols-[1.25rem_minmax(0,1fr)_auto] items-start gap-x-3 gap-y-1 py-3 sm:grid-cols-[1.25rem_minmax(0,1fr)_11rem_auto]"
    >
      <AlarmSign alarm={alarm} className="mt-1" />
      <div className="grid min-w-0 gap-0.5">
        <p className="flex flex-wrap items-baseline gap-x-2">
          <Link to={`/guard/${alarm.id}`} className="font-semibold hover:text-chestnut hover:underline">
            {titleOf(alarm, signal)}
          </Link>
          {isOpen && alarm.alarm.priority !== 'important' && (
            <span
              className={`text-sm ${alarm.alarm.priority === 'urgent' ? 'font-semibold text-trouble' : 'text-ink-soft'}`}
            >
              {priorityWords[alarm.alarm.priority]}
            </span>
          )}
        </p>
        <p className="text-sm text-ink-soft">{details(group, signal, now)}</p>
        {explains.length > 0 && (
          <p className="text-sm text-ink-soft">
            and with it {explains.map((each) => each.subject).join(', ')}
          </p>
        )}
      </div>
      <p className="col-start-2 text-sm text-ink-soft sm:col-start-3 sm:pt-0.5">{times(alarm, now)}</p>
      <div className="col-start-3 row-start-1 flex items-center gap-1 sm:col-start-4">
        {mayMove && state === 'unacknowledged' && (
          <Button weight="strong" onClick={onSeen}>
            I see to it
          </Button>
        )}
        {mayMove && state === 'returned' && <Button onClick={onSeen}>Seen</Button>}
        {mayMove && state === 'latched' && <Button onClick={onReset}>Reset</Button>}
        {mayMove && state === 'shelved' && <Button onClick={onWake}>Wake</Button>}
        {mayTakeOut && state === 'out-of-service' && <Button onClick={onReturn}>Return to service</Button>}
        <More {...props} mayMove={mayMove} mayTakeOut={mayTakeOut} />
      </div>
    </li>
  )
}

function More(props: AlarmRowProps & { readonly mayMove: boolean; readonly mayTakeOut: boolean }) {
  const { group, onAsk, onMoment, mayMove, mayTakeOut } = props
  const { state, raisedAt, deviceId } = group.alarm
  const isAside = state === 'shelved' || state === 'out-of-service'
  const canSee = raisedAt !== null && deviceId !== null
  if (!canSee && !mayMove) return null
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="More"
        className="rounded-md p-2 text-ink-soft hover:bg-well hover:text-ink"
      >
        <EllipsisVertical aria-hidden="true" className="size-4" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className={menuLook}>
          {canSee && <MenuItem onSelect={onMoment}>Go to the moment</MenuItem>}
          {mayMove && (state === 'unacknowledged' || state === 'returned') && (
            <MenuItem onSelect={() => onAsk('acknowledge')}>I see to it, with a word …</MenuItem>
          )}
          {mayMove && !isAside && <MenuItem onSelect={() => onAsk('shelve')}>Let it rest …</MenuItem>}
          {mayTakeOut && state !== 'out-of-service' && (
            <MenuItem onSelect={() => onAsk('take-out')}>Take out of service …</MenuItem>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** What whoever is woken has to know first. */
function details({ alarm }: AlarmGroup, signal: Signal | undefined, now: number): string {
  const { state, shelf, outOfService, acknowledged, alarm: stated } = alarm
  if (state === 'out-of-service' && outOfService) return `${outOfService.by}: ${outOfService.why}`
  if (state === 'shelved' && shelf)
    return `rests until ${clock(shelf.until, now)} · ${shelf.by}: ${shelf.why}`
  if (state === 'suppressed') return `suppressed by design: ${stated.unless?.says ?? ''}`
  const seen =
    acknowledged && `${acknowledged.person}: ${acknowledged.word === '' ? 'I see to it' : acknowledged.word}`
  const parts = [
    saysOf(alarm, signal),
    state === 'returned' ? 'over, nobody has seen it' : '',
    state === 'latched' ? 'over, waits to be reset' : '',
    state === 'acknowledged' ? (seen ?? 'seen') : stated.response,
  ]
  return parts.filter((part) => part !== '').join(' · ')
}

function times({ state, raisedAt, returnedAt, isActive }: AlarmGroup['alarm'], now: number): string {
  if (raisedAt === null || state === 'suppressed' || state === 'shelved' || state === 'out-of-service')
    return ''
  if (isActive) return `since ${clock(raisedAt, now)}, ${roughLength(Math.max(0, now - raisedAt) / 1000)}`
  return returnedAt === null ? '' : `${clock(raisedAt, now)} to ${clock(returnedAt, now)}`
}
