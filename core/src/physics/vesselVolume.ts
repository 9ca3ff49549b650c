import type { QuantityFunction } from './quantityFunction.ts'

const level = { name: 'level', unit: 'm', from: 0 } as const
const metres = (name: string) => ({ name, unit: 'm', from: 0 })
const geometry =
  'Geometry (Perry’s Chemical Engineers’ Handbook, section 10, volume of partly filled vessels).'

export const uprightVolume: QuantityFunction = {
  name: 'upright_volume',
  says: 'What is in an upright cylinder, by its level.',
  takes: [level, metres('diameter')],
  gives: 'm3',
  source: geometry,
  example: 'upright_volume(1.5 - echo_distance(x, 20), 0.8)',
  of: (height, diameter) => (Math.PI / 4) * diameter ** 2 * height,
}

export const lyingVolume: QuantityFunction = {
  name: 'lying_volume',
  says: 'What is in a cylinder that lies on its side, by its level.',
  takes: [level, metres('diameter'), metres('length')],
  gives: 'm3',
  source: geometry,
  example: 'lying_volume(x, 1.2, 2)',
  of: (height, diameter, length) => {
    const radius = diameter / 2
    if (height > diameter) return Number.NaN
    const toMiddle = radius - height
    const segment =
      radius ** 2 * Math.acos(toMiddle / radius) - toMiddle * Math.sqrt(height * (diameter - height))
    return segment * length
  },
}

export const conicalVolume: QuantityFunction = {
  name: 'conical_volume',
  says: 'What is in a cone or the stump of one that stands on its narrow or wide end, by its level.',
  takes: [level, metres('height'), metres('bottom'), metres('top')],
  gives: 'm3',
  source: geometry,
  example: 'conical_volume(x, 1.1, 0.2, 1)',
  of: (filled, height, bottom, top) => {
    if (filled > height) return Number.NaN
    const there = bottom + ((top - bottom) * filled) / height
    return (Math.PI / 12) * filled * (bottom ** 2 + bottom * there + there ** 2)
  },
}
