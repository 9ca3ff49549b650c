import type { Device } from '@jaunty-sparrow/contract'
import { type CsvPlan, type CsvSample, type Point, timeText } from '@jaunty-sparrow/core/file'
import { fieldLabel, pointerSegment } from '@jaunty-sparrow/core/message'
import {
  detectTimeFormat,
  LocalClock,
  needsZone,
  readFileTime,
  type TimeFormat,
  timeFormats,
} from '@jaunty-sparrow/core/time'
import { ChoiceField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { fixedOffsets, timeZones } from '../time/timeZones.ts'

interface CsvPreviewProps {
  readonly device: Device
  readonly sample: CsvSample
  readonly doubtfulTime: boolean
  readonly plan: CsvPlan
  readonly onChange: (plan: CsvPlan) => void
}

const formatNames: Record<TimeFormat, string> = {
  zoned: 'ISO 8601 with its zone',
  epoch: 'seconds or milliseconds since 1970',
  'year-first': 'year, month, day',
  'day-first': 'day, month, year',
  'month-first': 'month, day, year',
}

const shownRows = 5
const time = 'time'
const leftOut = 'out'

/** Shows the first rows as they will be read, and lets every guess be put right. */
export function CsvPreview({ device, sample, doubtfulTime, plan, onChange }: CsvPreviewProps) {
  const { header, rows } = sample
  const assign = (column: number, choice: string) => {
    const isTime = choice === time
    const timeColumns = [...plan.timeColumns.filter((other) => other !== column), ...(isTime ? [column] : [])]
    const fields = plan.fields.map((field, index) =>
      index === column ? (isTime || choice === leftOut ? null : choice) : field === choice ? null : field,
    )
    timeColumns.sort((a, b) => a - b)
    const told = rows.map((row) => timeText(row, timeColumns))
    const format = isTime ? detectTimeFormat(told)?.format : undefined
    onChange({ ...plan, timeColumns, fields, ...(format && { timeFormat: format }) })
  }
  return (
    <div className="grid gap-4">
      {plan.timeColumns.length === 0 && (
        <Notice tone="trouble" title="Which column tells the time?">
          None of them looks like a time. Choose it below.
        </Notice>
      )}
      {doubtfulTime && (
        <Notice tone="info" title="Day and month could be the other way round">
          No row tells which comes first. Compare the first row below with what you know.
        </Notice>
      )}
      {plan.points.some((point, column) => point === 'unclear' && isUsed(plan, column)) && (
        <Notice tone="trouble" title="Is 1.234 a thousand, or one and a bit?">
          Decimals have a comma in this file, and nothing in the column tells what its points are. Choose it
          below.
        </Notice>
      )}
      {plan.timeColumns.length > 0 && (
        <div className="grid gap-3 sm:grid-cols-2">
          <ChoiceField
            label="Times are written as"
            value={plan.timeFormat}
            onChange={({ target }) => onChange({ ...plan, timeFormat: target.value as TimeFormat })}
          >
            {timeFormats.map((format) => (
              <option key={format} value={format}>
                {formatNames[format]}
              </option>
            ))}
          </ChoiceField>
          {needsZone(plan.timeFormat) && (
            <ChoiceField
              label="The clock showed the time of"
              value={plan.zone}
              onChange={({ target }) => onChange({ ...plan, zone: target.value })}
            >
              {timeZones.map((zone) => (
                <option key={zone} value={zone}>
                  {zone.replaceAll('_', ' ')}
                </option>
              ))}
              <optgroup label="The same all year">
                {fixedOffsets.map((offset) => (
                  <option key={offset} value={offset}>
                    UTC {offset}
                  </option>
                ))}
              </optgroup>
            </ChoiceField>
          )}
        </div>
      )}
      <div className="overflow-x-auto rounded-md border border-rule">
        <table className="w-full text-left text-sm">
          <thead className="bg-well align-bottom">
            <tr>
              <th scope="col" className="p-2 font-semibold">
                Measured at
                <span className="block font-normal text-ink-soft">{plan.zone.replaceAll('_', ' ')}</span>
              </th>
              {header.map((name, column) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two columns may have the same name
                <th key={column} scope="col" className="min-w-28 p-2 font-semibold">
                  <span className="block truncate pb-1">{name || `column ${column + 1}`}</span>
                  <select
                    aria-label={`What ${name || `column ${column + 1}`} is`}
                    value={plan.timeColumns.includes(column) ? time : (plan.fields[column] ?? leftOut)}
                    onChange={({ target }) => assign(column, target.value)}
                    className="w-full rounded-md border border-rule-strong bg-sheet px-2 py-1.5 font-normal"
                  >
                    <option value={time}>the time</option>
                    <option value={leftOut}>left out</option>
                    {choices(device, name).map(([field, label]) => (
                      <option key={field} value={field}>
                        {label}
                      </option>
                    ))}
                  </select>
                  {plan.points[column] !== 'none' && isUsed(plan, column) && (
                    <PointChoice
                      name={name || `column ${column + 1}`}
                      point={plan.points[column] ?? 'none'}
                      onChange={(point) =>
                        onChange({
                          ...plan,
                          points: plan.points.map((was, at) => (at === column ? point : was)),
                        })
                      }
                    />
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {rows.slice(0, shownRows).map((row, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
              <tr key={index}>
                <td className="p-2 whitespace-nowrap">
                  <Instant row={row} plan={plan} />
                </td>
                {header.map((_, column) => (
                  <td
                    // biome-ignore lint/suspicious/noArrayIndexKey: two columns may have the same name
                    key={column}
                    className={`p-2 ${isUsed(plan, column) ? '' : 'text-ink-soft line-through'}`}
                  >
                    {row[column]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  )
}

interface PointChoiceProps {
  readonly name: string
  readonly point: Point
  readonly onChange: (point: Point) => void
}

/** In a file with decimal commas a point may part thousands, and where nothing tells it has to be said. */
const PointChoice = ({ name, point, onChange }: PointChoiceProps) => (
  <select
    aria-label={`What 1.234 is in ${name}`}
    value={point}
    onChange={({ target }) => onChange(target.value as Point)}
    className={`mt-1 w-full rounded-md border bg-sheet px-2 py-1.5 font-normal ${point === 'unclear' ? 'border-trouble text-trouble' : 'border-rule-strong'}`}
  >
    {point === 'unclear' && <option value="unclear">what is 1.234?</option>}
    <option value="thousands">1.234 is 1234</option>
    <option value="decimals">1.234 is 1,234</option>
  </select>
)

const isUsed = (plan: CsvPlan, column: number): boolean =>
  plan.timeColumns.includes(column) || plan.fields[column] != null

/** The signals that are there, and one that would be new. */
function choices({ signals }: Device, name: string): (readonly [field: string, label: string])[] {
  const there = signals
    .filter(({ origin }) => origin !== 'derived')
    .map((signal) => [signal.field, signal.name] as const)
  const own = pointerSegment(name)
  return name === '' || signals.some(({ field }) => field === own)
    ? there
    : [...there, [own, `a new signal, ${fieldLabel(own)}`]]
}

function Instant({ row, plan }: { row: readonly string[]; plan: CsvPlan }) {
  if (plan.timeColumns.length === 0) return null
  const at = readFileTime(
    timeText(row, plan.timeColumns),
    plan.timeFormat,
    new LocalClock(plan.zone, plan.order),
  )
  if (typeof at !== 'number') return <span className="text-trouble">{at.problem}</span>
  return dateFormat({
    dateStyle: 'medium',
    timeStyle: 'medium',
    timeZone: plan.zone,
  }).format(at)
}
