/** A number a recipe asks for. */
interface Question {
  readonly asks: string
  /** As it is written: Ω, V. */
  readonly unit: string
  readonly usually: number
}

/** What lies on the table, and the formula that follows from it. */
export interface Recipe {
  readonly name: string
  /** UCUM code of what comes out. */
  readonly unit: string
  readonly questions: Readonly<Record<string, Question>>
  readonly write: (given: Readonly<Record<string, number>>) => string
}

const supply: Question = { asks: 'Supply and reference', unit: 'V', usually: 3.3 }
const bits: Question = { asks: 'Bits of the input', unit: '', usually: 12 }
const other: Question = { asks: 'The other resistor', unit: 'Ω', usually: 10_000 }
const at25: Question = { asks: 'Its resistance at 25 °C', unit: 'Ω', usually: 10_000 }
const beta: Question = { asks: 'Its B value', unit: 'K', usually: 3950 }

const side = ['ground', 'supply'] as const
const counts = ({ bits, supply }: Readonly<Record<string, number>>): string =>
  `adc_volts(x, ${bits}, ${supply})`
const divider = (to: (typeof side)[number], given: Readonly<Record<string, number>>): string =>
  `divider_to_${to}(${counts(given)}, ${given.supply}, ${given.other})`

const thermistor = (to: (typeof side)[number]): Recipe => ({
  name: `Thermistor to ${to}, on an analog input`,
  unit: 'Cel',
  questions: { bits, supply, other, at25, beta },
  write: (given) => `thermistor_beta(${divider(to, given)}, ${given.at25}, ${given.beta})`,
})
const light = (to: (typeof side)[number]): Recipe => ({
  name: `Light-dependent resistor to ${to}, on an analog input`,
  unit: 'lx',
  questions: {
    bits,
    supply,
    other,
    at10: { asks: 'Its resistance at 10 lx', unit: 'Ω', usually: 15_000 },
    gamma: { asks: 'Its gamma', unit: '', usually: 0.7 },
  },
  write: (given) => `light_resistor(${divider(to, given)}, ${given.at10}, ${given.gamma})`,
})

/** What people have on the table most, and how its formula is written. */
export const recipes: readonly Recipe[] = [
  thermistor('ground'),
  thermistor('supply'),
  light('ground'),
  light('supply'),
  {
    name: 'Voltage behind a divider, such as a battery',
    unit: 'V',
    questions: {
      bits,
      supply,
      upper: { asks: 'The resistor above', unit: 'Ω', usually: 100_000 },
      lower: { asks: 'The resistor to ground', unit: 'Ω', usually: 100_000 },
    },
    write: (given) => `${counts(given)} * (${given.upper} + ${given.lower}) / ${given.lower}`,
  },
  {
    name: 'Sensor with a straight line, on an analog input',
    unit: '',
    questions: {
      bits,
      supply,
      at1: { asks: 'At this voltage', unit: 'V', usually: 0.5 },
      is1: { asks: 'it means', unit: '', usually: 0 },
      at2: { asks: 'and at this voltage', unit: 'V', usually: 2.5 },
      is2: { asks: 'it means', unit: '', usually: 100 },
    },
    write: (given) => `linear(${counts(given)}, ${given.at1}, ${given.is1}, ${given.at2}, ${given.is2})`,
  },
  {
    name: 'Platinum resistor, its resistance is sent',
    unit: 'Cel',
    questions: { at0: { asks: 'Its resistance at 0 °C', unit: 'Ω', usually: 100 } },
    write: ({ at0 }) => `platinum(x, ${at0})`,
  },
  {
    name: '4–20 mA over a resistor, on an analog input',
    unit: '',
    questions: {
      bits,
      supply,
      burden: { asks: 'The resistor', unit: 'Ω', usually: 150 },
      at4: { asks: 'At 4 mA it means', unit: '', usually: 0 },
      at20: { asks: 'At 20 mA it means', unit: '', usually: 100 },
    },
    write: (given) => `current_loop(${counts(given)} / ${given.burden} * 1000, ${given.at4}, ${given.at20})`,
  },
  {
    name: 'Echo ranger: how deep it is below it',
    unit: 'm',
    questions: {
      above: { asks: 'From the ranger to the ground', unit: 'm', usually: 1.5 },
      air: { asks: 'The air is about', unit: '°C', usually: 20 },
    },
    write: ({ above, air }) => `${above} - echo_distance(x, ${air})`,
  },
  {
    name: 'Current clamp, its voltage is sent',
    unit: 'A',
    questions: {
      turns: { asks: 'Its turns', unit: '', usually: 2000 },
      burden: { asks: 'Its burden resistor', unit: 'Ω', usually: 33 },
    },
    write: ({ turns, burden }) => `current_clamp(x, ${turns}, ${burden})`,
  },
]
