import { useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import { Button } from '../../design/Button.tsx'
import { ChoiceField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { DoneItem } from '../../log/DoneItem.tsx'
import { useLogQuery } from '../../log/logApi.ts'
import { usePeopleQuery } from '../../people/peopleApi.ts'
import { serverNow } from '../../time/clock.ts'

const day = 86_400_000
const spans = {
  day: ['The last day', day],
  month: ['The last 30 days', 30 * day],
  all: ['From the start', 0],
} as const
type Span = keyof typeof spans
const anybody = ''
/** So many are told at once. */
const longestPage = 1000

/** What was done by whom, with what was before and after. */
export function LogPage() {
  const [span, setSpan] = useState<Span>('month')
  const [personId, setPersonId] = useState(anybody)
  const [deviceId, setDeviceId] = useState(anybody)
  /** Where the page that is shown begins; undefined for the newest. */
  const [before, setBefore] = useState<number>()
  const { data: people = [] } = usePeopleQuery()
  const { data: devices = [] } = useDevicesQuery()
  // To the minute, so that looking does not ask again by itself.
  const to = Math.ceil((serverNow() + 1) / 60_000) * 60_000
  const length = spans[span][1]
  const { data: done, error } = useLogQuery({
    from: length === 0 ? 0 : to - length,
    to,
    changes: true,
    ...(before !== undefined && { before }),
    ...(personId !== anybody && { personId: Number(personId) }),
    ...(deviceId !== anybody && { deviceId: Number(deviceId) }),
  })
  return (
    <div className="grid gap-6">
      <h1 className="text-3xl">What was done</h1>
      <div className="grid gap-3 sm:grid-cols-3">
        <ChoiceField label="When" value={span} onChange={({ target }) => setSpan(target.value as Span)}>
          {Object.entries(spans).map(([key, [label]]) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </ChoiceField>
        <ChoiceField label="By" value={personId} onChange={({ target }) => setPersonId(target.value)}>
          <option value={anybody}>Anybody</option>
          {people.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </ChoiceField>
        <ChoiceField label="Device" value={deviceId} onChange={({ target }) => setDeviceId(target.value)}>
          <option value={anybody}>Any</option>
          {devices.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </ChoiceField>
      </div>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {done?.length === 0 && <p className="text-ink-soft">Nobody has changed anything in that time.</p>}
      <ul className="divide-y divide-rule border-y border-rule text-sm empty:hidden">
        {done?.map((event) => (
          <DoneItem key={event.id} event={event} device={devices.find(({ id }) => id === event.deviceId)} />
        ))}
      </ul>
      <div className="flex gap-2">
        {before !== undefined && <Button onClick={() => setBefore(undefined)}>The newest</Button>}
        {done?.length === longestPage && <Button onClick={() => setBefore(done.at(-1)?.id)}>Older</Button>}
      </div>
    </div>
  )
}
