import { type Shown, writeValue } from '@jaunty-sparrow/drawings/instrument'
import { Button } from '../design/Button.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { saveFile } from '../design/saveFile.ts'
import { dateFormat } from '../language/dateFormat.ts'

/** A page holds no more rows; the file has all of them. */
const mostRows = 300

interface DataTableProps {
  readonly title: string
  readonly shown: Shown
  readonly onClose: () => void
}

/** What an instrument draws, as a table. */
export function DataTable({ title, shown: { signals, writing, timeZone }, onClose }: DataTableProps) {
  const at = [
    ...new Set(signals.flatMap(({ trace }) => trace?.points.map(([instant]) => instant) ?? [])),
  ].sort((one, other) => other - one)
  const values = signals.map(({ trace }) => new Map(trace?.points ?? []))
  const clock = dateFormat({ timeZone, dateStyle: 'short', timeStyle: 'medium' })
  const csv = () =>
    [
      [
        'time',
        ...signals.map((signal) => `${signal.device} ${signal.title}`.replaceAll(/[",\n]/g, ' ')),
      ].join(','),
      ...at.map((instant) =>
        [new Date(instant).toISOString(), ...values.map((of) => of.get(instant) ?? '')].join(','),
      ),
    ].join('\r\n')
  return (
    <Sheet open wide title={`Data of ${title}`} onClose={onClose}>
      <p className="mb-3 flex items-center justify-between gap-3 text-sm text-ink-soft">
        As it is drawn, thinned to what can be seen.
        <Button onClick={() => saveFile(`${title}.csv`, 'text/csv', csv())}>Save as CSV</Button>
      </p>
      <table className="w-full text-sm">
        <thead>
          <tr className="border-b border-ink text-left">
            <th className="py-1.5 font-semibold">Time</th>
            {signals.map((signal) => (
              <th key={signal.id} className="py-1.5 text-right font-semibold">
                {signal.title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {at.slice(0, mostRows).map((instant) => (
            <tr key={instant} className="border-b border-rule">
              <td className="py-1">{clock.format(instant)}</td>
              {signals.map((signal, place) => {
                const value = values[place]?.get(instant)
                return (
                  <td key={signal.id} className="py-1 text-right">
                    {value === undefined ? '' : writeValue(value, signal, writing)}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </Sheet>
  )
}
