import type { QuantityFunction } from './quantityFunction.ts'

const zeroCelsius = 273.15
const resistance = { name: 'ohms', unit: 'Ohm', from: 1e-3, to: 1e9 } as const

export const thermistorBeta: QuantityFunction = {
  name: 'thermistor_beta',
  says: 'The temperature of a thermistor, from its resistance, that at 25 °C, and its B value.',
  takes: [
    resistance,
    { name: 'at25', unit: 'Ohm', from: 1e-3 },
    { name: 'beta', unit: 'K', from: 500, to: 10_000 },
  ],
  gives: 'Cel',
  source: 'IEC 60539-1: B = ln(R₁/R₂) / (1/T₁ − 1/T₂). Good to a degree or so within 50 K of 25 °C.',
  example: 'thermistor_beta(divider_to_ground(adc_volts(x, 12, 3.3), 3.3, 10000), 10000, 3950)',
  of: (ohms, at25, beta) => 1 / (1 / (25 + zeroCelsius) + Math.log(ohms / at25) / beta) - zeroCelsius,
}

export const thermistorSteinhart: QuantityFunction = {
  name: 'thermistor_steinhart',
  says: 'The temperature of a thermistor, from its resistance and its three Steinhart–Hart coefficients.',
  takes: [resistance, { name: 'a', unit: '' }, { name: 'b', unit: '' }, { name: 'c', unit: '' }],
  gives: 'Cel',
  source: 'Steinhart and Hart, Deep-Sea Research 15 (1968): 1/T = a + b ln R + c (ln R)³, R in ohms.',
  example: 'thermistor_steinhart(x, 0.001129241, 0.0002341077, 0.00000008775468)',
  of: (ohms, a, b, c) => {
    const ln = Math.log(ohms)
    return 1 / (a + b * ln + c * ln ** 3) - zeroCelsius
  },
}
