import { pastedCells, readRow } from './columns.ts'

it('reads what was typed in a row, and says of each cell what it does not understand', () => {
  expect(readRow({ name: 'Humidity', field: 'air.rh', kind: '', unit: '%', limits: 'high 95' })).toEqual({
    read: {
      name: 'Humidity',
      field: '/air/rh',
      kind: 'number',
      unit: '%',
      limits: { lowLow: null, low: null, high: 95, highHigh: null, deadband: 0, onDelay: 0, offDelay: 0 },
    },
    problems: {},
  })
  expect(readRow({ unit: 'furlong', decimals: '1' })).toEqual({
    read: { decimals: 1 },
    problems: { unit: expect.stringContaining('furlong') },
  })
})

it('takes cells as a spreadsheet copies them, without its titles', () => {
  expect(pastedCells('Name\tField\r\nTemperature\ttemp\r\n"Door"\tdoor\r\n')).toEqual([
    ['Temperature', 'temp'],
    ['Door', 'door'],
  ])
  expect(pastedCells('a\tb')).toEqual([['a', 'b']])
})
