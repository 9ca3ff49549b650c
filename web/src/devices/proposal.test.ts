import type { Signal } from '@jaunty-sparrow/contract'
import { proposals } from './proposal.ts'

const signal = (id: number, field: string, value: unknown, unit: string | null = null) =>
  ({
    id,
    field,
    unit,
    group: null,
    kind: typeof value === 'number' ? 'number' : 'text',
    latest: { value },
  }) as Signal

it('proposes units and groups where a message told none', () => {
  const signals = [
    signal(1, '/accel/x', 0),
    signal(2, '/accel/y', 0.1),
    signal(3, '/accel/z', 9.8),
    signal(4, '/temp', 294, 'Cel'),
    signal(5, '/note', 'ajar'),
  ]
  const axis = { unit: 'm/s2', group: 'Accel' }
  expect([...proposals(signals, ({ latest }) => latest).values()]).toEqual([axis, axis, axis, {}, {}])
})
