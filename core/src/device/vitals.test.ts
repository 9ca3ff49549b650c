import { vitalOf } from './vitals.ts'

const measured = { origin: 'measured', unit: null } as const

it.each([
  ['/rssi', 'signal strength'],
  ['/wifi/signalStrength', 'signal strength'],
  ['/battery', 'battery'],
  ['/vbat', 'battery'],
  ['/power/battV', 'battery'],
  ['/battery_level', 'battery'],
  ['/fw', 'firmware'],
  ['/firmwareVersion', 'firmware'],
  ['/version', 'firmware'],
])('%s tells of %s', (field, vital) => {
  expect(vitalOf({ ...measured, field })).toBe(vital)
})

it.each(['/temperature', '/battery_temperature', '/batch', '/signal', '/conversion', '/voltage'])(
  '%s measures something',
  (field) => {
    expect(vitalOf({ ...measured, field })).toBeUndefined()
  },
)

it('looks at the unit as well, and at what is measured only', () => {
  expect(vitalOf({ ...measured, field: '/battery', unit: 'V' })).toBe('battery')
  expect(vitalOf({ ...measured, field: '/battery', unit: 'Cel' })).toBeUndefined()
  expect(vitalOf({ field: '/battery', unit: 'V', origin: 'derived' })).toBeUndefined()
})
