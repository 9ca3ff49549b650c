import { storedEvery } from './storedEvery.ts'

it('is the cadence, unless less is stored', () => {
  expect(storedEvery({ storing: { by: 'every' } }, 2)).toBe(2)
  expect(storedEvery({ storing: { by: 'interval', seconds: 10, of: 'mean' } }, 2)).toBe(10)
  expect(storedEvery({ storing: { by: 'interval', seconds: 10, of: 'mean' } }, 600)).toBe(600)
  expect(storedEvery({ storing: { by: 'change', deadband: 1, heartbeat: 300 } }, 2)).toBe(300)
  expect(storedEvery({ storing: { by: 'change', deadband: 1, heartbeat: 300 } }, null)).toBeNull()
})
