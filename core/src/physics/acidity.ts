import type { QuantityFunction } from './quantityFunction.ts'

/** Millivolts for one pH and kelvin: R ln 10 / F with the exact constants of the SI of 2019. */
const nernst = (1000 * 8.31446261815324 * Math.LN10) / 96_485.33212331

export const acidity: QuantityFunction = {
  name: 'acidity',
  says: 'pH from the voltage of a glass electrode and the temperature; slope 1 for a new one.',
  takes: [
    { name: 'voltage', unit: 'mV', from: -700, to: 700 },
    { name: 'liquid', unit: 'Cel', from: 0, to: 100 },
    { name: 'at7', unit: 'mV', from: -100, to: 100 },
    { name: 'slope', unit: '', from: 0.5, to: 1.1 },
  ],
  gives: '[pH]',
  source: 'Nernst; IUPAC Recommendations 2002, Measurement of pH (59.16 mV for one pH at 25 °C).',
  example: 'acidity(x, 25, 0, 0.98)',
  of: (voltage, liquid, at7, slope) => 7 - (voltage - at7) / (slope * nernst * (liquid + 273.15)),
}
