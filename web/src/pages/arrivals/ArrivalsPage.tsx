import type { Arrival, ArrivalOutcome, Device, DoorName } from '@jaunty-sparrow/contract'
import { useVirtualizer } from '@tanstack/react-virtual'
import { Pause, Play } from 'lucide-react'
import { useDeferredValue, useRef, useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import type { ArrivalFilter } from '../../arrivals/arrivalList.ts'
import { useArrivalsQuery } from '../../arrivals/arrivalsApi.ts'
import { doorNames } from '../../arrivals/doorNames.ts'
import { Outcome } from '../../arrivals/Outcome.tsx'
import { UnclaimedPanel } from '../../claims/UnclaimedPanel.tsx'
import { Button } from '../../design/Button.tsx'
import { ChoiceField, TextField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { dateFormat } from '../../language/dateFormat.ts'
import { serverNow } from '../../time/clock.ts'
import { ArrivalDetail } from './ArrivalDetail.tsx'
import { TrySheet } from './TrySheet.tsx'

/** Everything that comes in, understood or refused: is it arriving, as what, and why do I not see it? */
export function ArrivalsPage() {
  const { data: devices = [] } = useDevicesQuery()
  const [openedAt] = useState(serverNow)
  const [deviceId, setDeviceId] = useState('')
  const [outcome, setOutcome] = useState('')
  const [door, setDoor] = useState('')
  const [text, setText] = useState('')
  const [paused, setPaused] = useState<readonly Arrival[]>()
  const [chosen, setChosen] = useState<Arrival>()
  const [trying, setTrying] = useState(false)
  const searched = useDeferredValue(text)
  const filter: ArrivalFilter = {
    ...(deviceId && { deviceId: Number(deviceId) }),
    ...(outcome && { outcome: outcome as ArrivalOutcome }),
    ...(door && { door: door as DoorName }),
    ...(searched && { text: searched }),
  }
  const { data, error } = useArrivalsQuery(filter)
  const shown = paused ?? data?.arrivals ?? []
  const waiting = paused && data ? data.arrivals.filter(({ id }) => id > (paused[0]?.id ?? 0)).length : 0
  // Another choice shows another list, so the one that was held still is let go.
  const choose = (set: (value: string) => void) => (event: { target: { value: string } }) => {
    setPaused(undefined)
    set(event.target.value)
  }
  return (
    <div className="grid gap-5">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <div className="grid grow basis-72 gap-1">
          <h1 className="text-3xl">Arrivals</h1>
          <p className="text-ink-soft">
            Every message that comes in, understood or refused. Choose one to see why.
          </p>
        </div>
        <div className="flex gap-2">
          <Button onClick={() => setTrying(true)}>Try a message</Button>
          <Button onClick={() => setPaused(paused ? undefined : shown)} aria-pressed={paused !== undefined}>
            {paused ? (
              <Play aria-hidden="true" className="size-4" />
            ) : (
              <Pause aria-hidden="true" className="size-4" />
            )}
            {paused ? `Go on${waiting > 0 ? ` (${waiting} more)` : ''}` : 'Pause'}
          </Button>
        </div>
      </header>
      <UnclaimedPanel openedAt={openedAt} />
      <div className="grid grid-cols-2 gap-3 lg:grid-cols-4">
        <ChoiceField label="Device" value={deviceId} onChange={choose(setDeviceId)}>
          <option value="">all, and strangers</option>
          {devices.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </ChoiceField>
        <ChoiceField label="Outcome" value={outcome} onChange={choose(setOutcome)}>
          <option value="">any</option>
          <option value="stored">stored</option>
          <option value="partly">partly stored</option>
          <option value="refused">refused</option>
          <option value="unclaimed">unclaimed</option>
          <option value="throttled">throttled</option>
        </ChoiceField>
        <ChoiceField label="Door" value={door} onChange={choose(setDoor)}>
          <option value="">any</option>
          {Object.entries(doorNames).map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </ChoiceField>
        <TextField
          label="Text"
          placeholder="anything in it"
          value={text}
          onChange={choose(setText)}
          type="search"
        />
      </div>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {data && data.skipped > 0 && (
        <p className="text-sm text-ink-soft">
          More comes in than can be shown one by one: {data.skipped} messages are kept but not in this list.
          The filter finds them.
        </p>
      )}
      <div className={`grid gap-4 ${chosen ? 'xl:grid-cols-[1fr_1fr]' : ''}`}>
        {!data && !error && <Skeleton className="h-96" />}
        {data && shown.length === 0 && (
          <p className="rounded-lg border border-dashed border-rule-strong p-6 text-ink-soft">
            {deviceId || outcome || door || text
              ? 'Nothing that was kept fits this choice.'
              : 'Nothing has come in yet. Whatever a device sends will appear here the moment it does, even with a wrong secret.'}
          </p>
        )}
        {shown.length > 0 && (
          <ArrivalRows
            arrivals={shown}
            devices={devices}
            openedAt={openedAt}
            chosen={chosen}
            onChoose={setChosen}
          />
        )}
        {chosen && <ArrivalDetail key={chosen.id} arrival={chosen} onClose={() => setChosen(undefined)} />}
      </div>
      {trying && <TrySheet onClose={() => setTrying(false)} />}
    </div>
  )
}

interface ArrivalRowsProps {
  readonly arrivals: readonly Arrival[]
  readonly devices: readonly Device[]
  readonly openedAt: number
  readonly chosen: Arrival | undefined
  readonly onChoose: (arrival: Arrival) => void
}

const rowHeight = 44
const clock = dateFormat({ hour: '2-digit', minute: '2-digit', second: '2-digit' })

/** Only the rows in sight are on the page, so a thousand cost no more than twenty. */
function ArrivalRows({ arrivals, devices, openedAt, chosen, onChoose }: ArrivalRowsProps) {
  const box = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({
    count: arrivals.length,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    getItemKey: (index) => arrivals[index]?.id ?? index,
    overscan: 8,
  })
  return (
    <div
      ref={box}
      className="h-[34rem] max-h-[70dvh] overflow-auto rounded-lg border border-rule bg-sheet shadow-sheet"
    >
      <ul className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((row) => {
          const arrival = arrivals[row.index]
          if (!arrival) return null
          return (
            <li
              key={row.key}
              className="absolute inset-x-0 top-0"
              style={{ height: rowHeight, transform: `translateY(${row.start}px)` }}
            >
              <button
                type="button"
                onClick={() => onChoose(arrival)}
                aria-pressed={arrival.id === chosen?.id}
                className={`grid h-full w-full grid-cols-[4.75rem_minmax(4rem,9rem)_6rem_1fr] items-center gap-3 border-b border-rule px-3 text-left text-sm hover:bg-well max-sm:grid-cols-[4.25rem_1fr_auto] ${arrival.id === chosen?.id ? 'bg-well' : ''}`}
              >
                <span className="text-ink-soft">{clock.format(arrival.receivedAt)}</span>
                <span className="flex min-w-0 items-center gap-1.5 font-semibold">
                  <span className="truncate">{nameOf(arrival, devices)}</span>
                  {arrival.receivedAt >= openedAt && arrival.deviceId === null && (
                    <span className="rounded-sm bg-late-wash px-1 text-xs text-late">new</span>
                  )}
                </span>
                <Outcome {...arrival} />
                <span className="truncate text-ink-soft max-sm:hidden">
                  {arrival.reason || arrival.topic || `${doorNames[arrival.door]}, ${arrival.size} bytes`}
                </span>
              </button>
            </li>
          )
        })}
      </ul>
    </div>
  )
}

/** Whose it is, as firmware calls it: a gateway's message is its sensor's. */
const nameOf = ({ sender, deviceId, topic }: Arrival, devices: readonly Device[]): string =>
  (topic !== '' && devices.find(({ id }) => id === deviceId)?.address) || sender || 'nobody'
