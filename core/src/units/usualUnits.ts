/** A unit people pick from a list: its UCUM code, which is what is kept, what it is called, and what it measures. */
export interface UsualUnit {
  readonly code: string
  readonly name: string
  readonly quantity: string
}

const byQuantity: Readonly<Record<string, readonly (readonly [code: string, name: string])[]>> = {
  temperature: [
    ['Cel', 'degree Celsius'],
    ['[degF]', 'degree Fahrenheit'],
    ['K', 'kelvin'],
  ],
  humidity: [
    ['%', 'percent'],
    ['%{RH}', 'percent relative humidity'],
    ['g/m3', 'gram per cubic metre'],
    ['g/kg', 'gram per kilogram'],
  ],
  share: [
    ['[ppth]', 'part per thousand'],
    ['[ppm]', 'part per million'],
    ['[ppb]', 'part per billion'],
    ['1', 'number'],
  ],
  concentration: [
    ['ug/m3', 'microgram per cubic metre'],
    ['mg/m3', 'milligram per cubic metre'],
    ['mg/L', 'milligram per litre'],
    ['g/L', 'gram per litre'],
    ['mmol/L', 'millimole per litre'],
  ],
  pressure: [
    ['Pa', 'pascal'],
    ['hPa', 'hectopascal'],
    ['kPa', 'kilopascal'],
    ['mbar', 'millibar'],
    ['bar', 'bar'],
    ['mm[Hg]', 'millimetre of mercury'],
    ["[in_i'Hg]", 'inch of mercury'],
    ['cm[H2O]', 'centimetre of water'],
    ['[psi]', 'pound per square inch'],
    ['atm', 'atmosphere'],
  ],
  length: [
    ['um', 'micrometre'],
    ['mm', 'millimetre'],
    ['cm', 'centimetre'],
    ['m', 'metre'],
    ['km', 'kilometre'],
    ['[in_i]', 'inch'],
    ['[ft_i]', 'foot'],
    ['[mi_i]', 'mile'],
  ],
  area: [
    ['cm2', 'square centimetre'],
    ['m2', 'square metre'],
    ['[sft_i]', 'square foot'],
  ],
  volume: [
    ['mL', 'millilitre'],
    ['L', 'litre'],
    ['hL', 'hectolitre'],
    ['m3', 'cubic metre'],
    ['[gal_us]', 'gallon (US)'],
    ['[gal_br]', 'gallon (UK)'],
  ],
  flow: [
    ['L/min', 'litre per minute'],
    ['L/h', 'litre per hour'],
    ['L/s', 'litre per second'],
    ['m3/h', 'cubic metre per hour'],
    ['[gal_us]/min', 'gallon (US) per minute'],
  ],
  precipitation: [
    ['mm/h', 'millimetre per hour'],
    ['[in_i]/h', 'inch per hour'],
  ],
  speed: [
    ['m/s', 'metre per second'],
    ['km/h', 'kilometre per hour'],
    ['[kn_i]', 'knot'],
    ['[mi_i]/h', 'mile per hour'],
  ],
  acceleration: [
    ['m/s2', 'metre per second squared'],
    ['[g]', 'standard gravity'],
  ],
  mass: [
    ['mg', 'milligram'],
    ['g', 'gram'],
    ['kg', 'kilogram'],
    ['t', 'tonne'],
    ['[lb_av]', 'pound'],
    ['[oz_av]', 'ounce'],
  ],
  force: [
    ['N', 'newton'],
    ['kN', 'kilonewton'],
  ],
  torque: [['N.m', 'newton metre']],
  voltage: [
    ['uV', 'microvolt'],
    ['mV', 'millivolt'],
    ['V', 'volt'],
    ['kV', 'kilovolt'],
  ],
  current: [
    ['uA', 'microampere'],
    ['mA', 'milliampere'],
    ['A', 'ampere'],
  ],
  charge: [
    ['mA.h', 'milliampere hour'],
    ['A.h', 'ampere hour'],
  ],
  resistance: [
    ['Ohm', 'ohm'],
    ['kOhm', 'kilohm'],
    ['MOhm', 'megohm'],
  ],
  conductivity: [
    ['uS/cm', 'microsiemens per centimetre'],
    ['mS/cm', 'millisiemens per centimetre'],
  ],
  power: [
    ['mW', 'milliwatt'],
    ['W', 'watt'],
    ['kW', 'kilowatt'],
    ['V.A', 'volt ampere'],
    ['[HP]', 'horsepower'],
  ],
  energy: [
    ['J', 'joule'],
    ['kJ', 'kilojoule'],
    ['W.h', 'watt hour'],
    ['kW.h', 'kilowatt hour'],
  ],
  irradiance: [['W/m2', 'watt per square metre']],
  illuminance: [['lx', 'lux']],
  'luminous flux': [['lm', 'lumen']],
  acidity: [['[pH]', 'pH']],
  angle: [
    ['deg', 'degree'],
    ['rad', 'radian'],
  ],
  frequency: [
    ['Hz', 'hertz'],
    ['kHz', 'kilohertz'],
    ['/min', 'per minute'],
    ['/h', 'per hour'],
  ],
  sound: [['dB[SPL]', 'decibel sound pressure']],
  level: [
    ['dB', 'decibel'],
    ['dB[W]', 'decibel watt'],
  ],
  radiation: [
    ['uSv/h', 'microsievert per hour'],
    ['Bq', 'becquerel'],
    ['Bq/m3', 'becquerel per cubic metre'],
  ],
  magnetism: [
    ['uT', 'microtesla'],
    ['mT', 'millitesla'],
  ],
  viscosity: [['mPa.s', 'millipascal second']],
  time: [
    ['us', 'microsecond'],
    ['ms', 'millisecond'],
    ['s', 'second'],
    ['min', 'minute'],
    ['h', 'hour'],
    ['d', 'day'],
  ],
  information: [
    ['By', 'byte'],
    ['kBy', 'kilobyte'],
    ['MBy', 'megabyte'],
  ],
}

/** The units that are met most, by what they measure. Every other UCUM code may be used as well. */
export const usualUnits: readonly UsualUnit[] = Object.entries(byQuantity).flatMap(([quantity, units]) =>
  units.map(([code, name]) => ({ code, name, quantity })),
)
