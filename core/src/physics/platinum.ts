import type { QuantityFunction } from './quantityFunction.ts'

const a = 3.9083e-3
const b = -5.775e-7
const c = -4.183e-12

/** Resistance at a temperature, °C, as a share of that at 0 °C. */
const share = (t: number): number => 1 + a * t + b * t * t + (t < 0 ? c * (t - 100) * t ** 3 : 0)

export const platinum: QuantityFunction = {
  name: 'platinum',
  says: 'The temperature of a platinum resistor, from its resistance and that at 0 °C (100 or 1000 Ω).',
  takes: [
    { name: 'ohms', unit: 'Ohm', from: 0 },
    { name: 'at0', unit: 'Ohm', from: 1 },
  ],
  gives: 'Cel',
  source: 'IEC 60751, from −200 °C to 850 °C; below 0 °C solved by Newton’s method.',
  example: 'platinum(x, 100)',
  of: (ohms, at0) => {
    const asked = ohms / at0
    if (asked < share(-200) - 1e-4 || asked > share(850) + 1e-4) return Number.NaN
    // Above 0 °C the quadratic has a closed solution, from which the other side is a few steps away.
    let t = (-a + Math.sqrt(a * a - 4 * b * (1 - asked))) / (2 * b)
    if (asked < 1)
      for (let step = 0; step < 8; step++)
        t -= (share(t) - asked) / (a + 2 * b * t + c * (4 * t ** 3 - 300 * t ** 2))
    return t
  },
}
