import fc from 'fast-check'
import { decodeCsv } from '../message/decodeCsv.ts'
import { CsvImport, type CsvPlan, suggestPlan } from './csvImport.ts'
import { csvPieces } from './csvPieces.ts'
import { type CsvSample, sampleCsv } from './csvSample.ts'

const signals = [
  { field: '/probes/top', name: 'Milk, top' },
  { field: '/rh', name: 'Humidity' },
]
const sample = (text: string, isWhole = true): CsvSample => {
  const found = sampleCsv(text, isWhole)
  if ('failure' in found) throw new Error(found.failure)
  return found
}
const plan = (text: string) => suggestPlan(sample(text), signals, 'Europe/Dublin')

describe('a plan for a CSV file', () => {
  it('finds the time, the signals by their names, and what is left out', () => {
    expect(
      plan(
        'When,Milk top,Humidity (%),Remark,battery\n2026-05-01 12:00,6.4,48,fine,3.9\n2026-05-01 12:01,6.5,,,3.9\n',
      ),
    ).toEqual({
      delimiter: ',',
      linesAbove: 0,
      decimal: '.',
      points: ['none', 'none', 'none', 'none', 'none'],
      timeColumns: [0],
      timeFormat: 'year-first',
      doubtfulTime: false,
      zone: 'Europe/Dublin',
      order: 'oldest-first',
      fields: [null, '/probes/top', '/rh', null, '/battery'],
    })
  })

  it('reads decimal commas, and a date and a time of day in two columns', () => {
    expect(plan('Datum;Zeit;rh\n01.05.2026;12:00:00;48,5\n')).toMatchObject({
      delimiter: ';',
      decimal: ',',
      timeColumns: [0, 1],
      timeFormat: 'day-first',
      fields: [null, null, '/rh'],
    })
  })

  it('leaves it to the person where no column is a time', () => {
    expect(plan('a,b\n1,2\n')).toMatchObject({ timeColumns: [], fields: ['/a', '/b'] })
  })

  it('does without a last line that may be cut off, and says when there is nothing', () => {
    expect(sample('t,a\n1,2\n3,', false).rows).toEqual([['1', '2']])
    expect(sampleCsv('t,a\n', true)).toMatchObject({ failure: expect.stringContaining('no rows') })
  })
})

describe('the rows of a CSV file', () => {
  const reader = () => new CsvImport(plan('Datum;Zeit;rh\n01.05.2026;12:00:00;48,5\n'))

  it('become what a device could have sent, with the line each stood in', () => {
    const { csv, lines, refused } = reader().read(
      '01.05.2026;12:00:00;48,5\n\n01.05.2026;soon;49\n01.05.2026;12:00:02;50\n',
      2,
    )
    expect(csv).toBe('t,/rh\n1777633200000,48.5\n1777633202000,50')
    expect(lines).toEqual([2, 5])
    expect(refused).toEqual([{ line: 4, reason: expect.stringContaining('"01.05.2026 soon"') }])
    expect(decodeCsv(csv, 0)).toEqual([
      { time: 1777633200000, fields: [{ pointer: '/rh', value: 48.5 }] },
      { time: 1777633202000, fields: [{ pointer: '/rh', value: 50 }] },
    ])
  })

  const imported = (text: string, changed: Partial<CsvPlan> = {}) =>
    new CsvImport({ ...plan(text), ...changed }).read(text, 1, true)

  it('stand where they stand, below lines that loggers write above and behind cells of several lines', () => {
    const text =
      'Logger,4711\n"Place, and\nremarks"\n\ntime,rh,note\n2026-05-01 12:00,48,"two\nlines"\n2026-05-01 12:01,49,\nsoon,50,\n'
    const { lines, refused } = imported(text, { timeColumns: [0], timeFormat: 'year-first' })
    expect(lines).toEqual([6, 8])
    expect(refused).toEqual([{ line: 9, reason: expect.stringContaining('"soon"') }])
  })

  it('are read with the newest one first, and with the oldest', () => {
    const newest = 'time;rh\n25.10.2026 01:00;1\n25.10.2026 01:00;2\n25.10.2026 00:00;3\n'
    expect(plan(newest).order).toBe('newest-first')
    const times = (text: string) =>
      imported(text)
        .csv.match(/\d{13}/g)
        ?.map(Number)
    const hour = 3_600_000
    const first = Date.parse('2026-10-24T23:00:00Z')
    expect(times(newest)).toEqual([first + 2 * hour, first + hour, first])
    const oldest = 'time;rh\n25.10.2026 00:00;3\n25.10.2026 01:00;2\n25.10.2026 01:00;1\n'
    expect(times(oldest)).toEqual([first, first + hour, first + 2 * hour])
  })

  it('hold nothing where a cell says so, and times before 2001', () => {
    const { csv } = imported('time,rh,b\n1972-02-29 12:00,48,1\n1972-02-29 13:00,NA,-\n', { zone: 'UTC' })
    expect(csv).toBe('t,/rh,/b\n1972-02-29T12:00:00.000Z,48,1\n1972-02-29T13:00:00.000Z,,')
  })

  it.each([
    // A comma beside it, or two points, prove that a point parts thousands; a short or long rest that it does not.
    ['1.234;48,5', '2,5;1', 'thousands', '1234'],
    ['1.234.567;48,5', '1.234;1', 'thousands', '1234567'],
    ['1.234;48,5', '0.25;1', 'decimals', '1.234'],
    ['1.234;48,5', '12.5;1', 'decimals', '1.234'],
  ])('take a point for what the column %j, %j proves', (one, other, point, value) => {
    const text = `time;a;b\n01.05.2026 12:00;${one}\n01.05.2026 12:01;${other}\n`
    expect(plan(text).points[1]).toBe(point)
    expect(imported(text).csv.split('\n')[1]?.split(',')[1]).toBe(value)
  })

  it('are refused where nothing tells what a point is, until it is said', () => {
    const text = 'time;a;b\n01.05.2026 12:00;1.234;48,5\n'
    expect(plan(text).points).toEqual(['none', 'unclear', 'none'])
    expect(imported(text)).toMatchObject({
      csv: expect.stringMatching(/,,48.5$/),
      refused: [{ line: 2, reason: expect.stringContaining('could be 1234 or 1.234') }],
    })
    expect(imported(text, { points: ['none', 'thousands', 'none'] }).csv).toMatch(/,1234,48.5$/)
  })

  it('are read the same however the file is cut into pieces', async () => {
    const cell = fc.stringMatching(/^x[a-z ,"\n]{0,6}z$/)
    const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`
    const property = fc.asyncProperty(
      fc.array(fc.tuple(cell, cell), { minLength: 1 }),
      fc.integer({ min: 1, max: 20 }),
      async (rows, size) => {
        const lines = rows.map((row, n) => `${n + 1_777_000_000},${row.map(quoted).join()}`)
        const bytes = new TextEncoder().encode(`when,/a,/b\n${lines.join('\n')}`)
        const cut = async function* () {
          for (let start = 0; start < bytes.length; start += size) yield bytes.slice(start, start + size)
        }
        const read: unknown[] = []
        const told: CsvPlan = {
          ...plan('when,a,b\n2026-05-01 12:00,1,2\n'),
          timeFormat: 'epoch',
          fields: [null, '/a', '/b'],
        }
        for await (const { csv, refused } of csvPieces(cut(), 'utf-8', told)) {
          expect(refused).toEqual([])
          const records = decodeCsv(csv, 0)
          if (!('failure' in records))
            read.push(...records.map(({ fields }) => fields.map(({ value }) => value)))
        }
        expect(read).toEqual(rows)
      },
    )
    await fc.assert(property)
  })
})
