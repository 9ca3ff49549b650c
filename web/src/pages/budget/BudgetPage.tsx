import { budgetOf } from '@jaunty-sparrow/core/device'
import { secondsOf } from '@jaunty-sparrow/core/signal'
import { useEffect, useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import { useCapacityQuery, useMeasureCapacityMutation } from '../../budget/budgetApi.ts'
import { Button } from '../../design/Button.tsx'
import { TextField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useMay } from '../../people/useMay.ts'

const short = new Intl.NumberFormat('en-GB', { maximumSignificantDigits: 3 })
const percent = new Intl.NumberFormat('en-GB', { style: 'percent', maximumSignificantDigits: 2 })

/** What so many devices would cost this server: rows, disk, and how near they come to what it can take. */
export function BudgetPage() {
  const { data: devices = [] } = useDevicesQuery()
  const { data: capacity, error } = useCapacityQuery()
  const [measure, { data: ceiling, error: failure, isLoading }] = useMeasureCapacityMutation()
  const [typed, setTyped] = useState<{ devices?: string; signals?: string; cadence?: string }>({})
  const isOwner = useMay('owner')
  useEffect(() => {
    if (isOwner) void measure()
  }, [isOwner, measure])

  const signals = devices.flatMap((device) => device.signals.filter(({ state }) => state !== 'ignored'))
  const cadences = devices
    .flatMap(({ cadence }) => secondsOf(cadence?.cadence ?? null) ?? [])
    .sort((a, b) => a - b)
  const shown = {
    devices: typed.devices ?? String(Math.max(1, devices.length)),
    signals: typed.signals ?? String(Math.max(1, Math.round(signals.length / Math.max(1, devices.length)))),
    cadence: typed.cadence ?? String(cadences[Math.floor(cadences.length / 2)] ?? 30),
  }
  const fleet = {
    devices: Number(shown.devices),
    signals: Number(shown.signals),
    cadence: Number(shown.cadence),
  }
  const complete = Object.values(fleet).every((value) => value > 0)
  const budget =
    capacity && complete
      ? budgetOf(fleet, capacity.bytesPerReading, ceiling?.readingsPerSecond ?? Number.NaN)
      : undefined
  const field = (name: keyof typeof shown, label: string) => (
    <TextField
      label={label}
      type="number"
      min={0}
      step="any"
      value={shown[name]}
      onChange={({ target }) => setTyped((before) => ({ ...before, [name]: target.value }))}
    />
  )
  return (
    <div className="grid gap-6">
      <header className="grid gap-1">
        <h1 className="text-3xl">Budget</h1>
        <p className="max-w-prose text-ink-soft">
          What so many devices cost this server. It starts with what you have; change the numbers to see what
          you plan.
        </p>
      </header>
      <div className="grid gap-3 sm:grid-cols-3">
        {field('devices', 'Devices')}
        {field('signals', 'Signals of each')}
        {field('cadence', 'Seconds between readings')}
      </div>
      {(error ?? failure) && <Notice tone="trouble" title={problemText(error ?? failure)} />}
      {!complete && <Notice tone="info" title="Give each of the three a number above zero." />}
      {budget && capacity && (
        <dl className="grid gap-x-6 gap-y-5 border-t border-rule pt-5 sm:grid-cols-2 lg:grid-cols-4">
          <Figure name="Readings a second" value={short.format(budget.readingsPerSecond)} />
          <Figure name="Rows a day" value={whole(budget.rowsPerDay)} />
          <Figure
            name="Disk a year"
            value={bytes(budget.bytesPerYear)}
            hint={`${Math.round(capacity.bytesPerReading)} bytes a reading`}
          />
          <Figure
            name="Of what this server can store"
            value={ceiling ? percent.format(budget.share) : isLoading ? 'measuring …' : 'not measured'}
            hint={ceiling && `${whole(ceiling.readingsPerSecond)} readings a second, measured just now`}
            trouble={budget.share > 0.5}
          />
        </dl>
      )}
      {budget && budget.share > 0.5 && (
        <Notice tone="trouble" title="This is more than half of what the server can store">
          Let the devices speak less often, or give PostgreSQL a faster disk. Doors, decoding and live pages
          need their share too.
        </Notice>
      )}
      {isOwner && (
        <p>
          <Button onClick={() => void measure()} disabled={isLoading}>
            {isLoading ? 'Measuring …' : 'Measure again'}
          </Button>
        </p>
      )}
    </div>
  )
}

interface FigureProps {
  readonly name: string
  readonly value: string
  readonly hint?: string | undefined
  readonly trouble?: boolean
}

const Figure = ({ name, value, hint, trouble = false }: FigureProps) => (
  <div className="grid content-start gap-0.5">
    <dt className="text-sm font-semibold text-ink-soft">{name}</dt>
    <dd className={`font-display text-3xl ${trouble ? 'text-trouble' : ''}`}>{value}</dd>
    {hint && <dd className="text-sm text-ink-soft">{hint}</dd>}
  </div>
)

const whole = (value: number): string => new Intl.NumberFormat('en-GB').format(Math.round(value))

const bytes = (value: number): string => {
  const units = ['kilobyte', 'megabyte', 'gigabyte', 'terabyte'] as const
  const step = Math.min(Math.max(Math.floor(Math.log10(value) / 3), 1), units.length)
  const unit = units[step - 1] ?? 'kilobyte'
  return new Intl.NumberFormat('en-GB', { style: 'unit', unit, maximumSignificantDigits: 3 }).format(
    value / 1000 ** step,
  )
}
