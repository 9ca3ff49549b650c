import fc from 'fast-check'
import { CsvImport, type CsvSample, endOfRows, sampleCsv, suggestPlan } from './csvImport.ts'
import { decodeCsv } from './decodeCsv.ts'

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
      decimal: '.',
      timeColumns: [0],
      timeFormat: 'year-first',
      doubtfulTime: false,
      zone: 'Europe/Dublin',
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

  it('are told apart the same however the file is cut into pieces', () => {
    const cell = fc.stringMatching(/^[a-z0-9 ,"\n]{0,6}$/)
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell)), fc.integer({ min: 1, max: 20 }), (rows, size) => {
        const text = rows
          .map((row) => `${row.map((each) => `"${each.replaceAll('"', '""')}"`).join()}\n`)
          .join('')
        const pieces: string[] = []
        let rest = ''
        for (let start = 0; start < text.length; start += size) {
          rest += text.slice(start, start + size)
          const end = endOfRows(rest)
          if (end > 0) pieces.push(rest.slice(0, end))
          rest = rest.slice(end)
        }
        expect(rest).toBe('')
        expect(pieces.join('')).toBe(text)
        // Each piece ends where a row does, so quotes are in pairs.
        for (const piece of pieces) expect((piece.match(/"/g) ?? []).length % 2).toBe(0)
      }),
    )
  })
})
