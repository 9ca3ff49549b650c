import { guessGroups } from './guessGroups.ts'

const groups = (...pointers: string[]) => Object.fromEntries(guessGroups(pointers))

it('finds axes and channels of a colour, by the name they share', () => {
  expect(groups('/accel/x', '/accel/y', '/accel/z', '/temp')).toEqual({
    '/accel/x': 'Accel',
    '/accel/y': 'Accel',
    '/accel/z': 'Accel',
  })
  expect(groups('/lamp_red', '/lamp_green', '/lamp_blue')).toEqual({
    '/lamp_red': 'Lamp',
    '/lamp_green': 'Lamp',
    '/lamp_blue': 'Lamp',
  })
  expect(groups('/x', '/y', '/z')).toEqual({ '/x': 'Axes', '/y': 'Axes', '/z': 'Axes' })
  expect(groups('/r', '/g', '/b')).toEqual({ '/r': 'Colour', '/g': 'Colour', '/b': 'Colour' })
})

it('leaves alone what is not whole, or belongs to another', () => {
  expect(groups('/accel/x', '/accel/y', '/gyro/z')).toEqual({})
  expect(groups('/air', '/fog', '/bulb')).toEqual({})
})
