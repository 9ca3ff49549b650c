import type { Device } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { type ReactNode, useState } from 'react'
import { useTestBuzzerMutation, useTestWallsMutation } from '../../alarms/alarmsApi.ts'
import { problemText } from '../../api/problemText.ts'
import { Button } from '../../design/Button.tsx'
import { ChoiceField } from '../../design/Field.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useAccess } from '../../people/useMay.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'

/** What tells of alarms where they are, each with a test: the buzzer of a board, and the walls of a site. */
export function OnTheSpot() {
  const access = useAccess()
  const { data: devices = [] } = useDevicesQuery()
  const { data: sites = [] } = useSitesQuery()
  const guarding = devices.filter((device) => mayAt(access, 'operator', device.siteId) && canGuard(device))
  const operated = sites.filter(({ id }) => mayAt(access, 'operator', id))
  const [sound, sounding] = useTestBuzzerMutation()
  const [hang, hanging] = useTestWallsMutation()
  if (operated.length === 0) return null
  return (
    <section aria-labelledby="on-the-spot" className="grid gap-3">
      <div className="grid gap-1">
        <h2 id="on-the-spot" className="text-xl">
          On the spot
        </h2>
        <p className="max-w-prose text-ink-soft">
          The buzzer of a board sounds while an alarm of it waits for a word. A page on a wall shows the first
          alarm of its site.
        </p>
      </div>
      <div className="grid max-w-3xl gap-x-8 gap-y-4 sm:grid-cols-2">
        {guarding.length > 0 && (
          <Tried
            label="Buzzer of"
            choices={guarding.map(({ address, name }) => [address, name])}
            act="Sound it"
            isBusy={sounding.isLoading}
            onTry={(address) => void sound(address)}
            error={sounding.error}
          >
            {sounding.data &&
              'It sounds for a minute. A board that asks for its limits hears of it when it sends.'}
          </Tried>
        )}
        <Tried
          label="Walls of"
          choices={operated.map(({ id, name }) => [String(id), name])}
          act="Hang a test"
          isBusy={hanging.isLoading}
          onTry={(siteId) => void hang(Number(siteId))}
          error={hanging.error}
        >
          {hanging.data && 'It hangs there for a minute, unless an alarm already does.'}
        </Tried>
      </div>
    </section>
  )
}

interface TriedProps {
  readonly label: string
  /** What is tried, and what it is called. */
  readonly choices: readonly (readonly [value: string, name: string])[]
  readonly act: string
  readonly isBusy: boolean
  readonly onTry: (value: string) => void
  readonly error: Parameters<typeof problemText>[0] | undefined
  /** What came of it. */
  readonly children: ReactNode
}

function Tried({ label, choices, act, isBusy, onTry, error, children }: TriedProps) {
  const [chosen, choose] = useState<string>()
  const value = chosen ?? choices[0]?.[0] ?? ''
  return (
    <div className="grid content-start gap-1.5">
      <div className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-2">
        <ChoiceField label={label} value={value} onChange={(event) => choose(event.target.value)}>
          {choices.map(([each, name]) => (
            <option key={each} value={each}>
              {name}
            </option>
          ))}
        </ChoiceField>
        <Button className="min-h-[2.625rem]" disabled={isBusy} onClick={() => onTry(value)}>
          {act}
        </Button>
      </div>
      <p role="status" className={`text-sm ${error ? 'text-trouble' : 'text-ink-soft'}`}>
        {error ? problemText(error) : children}
      </p>
    </div>
  )
}

/** Whether there is something that a board is told to guard by. */
const canGuard = ({ signals }: Device): boolean =>
  signals.some(({ limits, alarms }) => limits !== null || alarms.length > 0)
