/** A unit: its UCUM code, which is what we store, its usual symbol, which is what people see, and what it measures. */
export interface Unit {
  readonly code: string
  readonly symbol: string
  readonly quantity: string
}

/** The units a person can pick from, by quantity. Codes after the Unified Code for Units of Measure (UCUM). */
export const units: readonly Unit[] = [
  { code: 'Cel', symbol: '°C', quantity: 'temperature' },
  { code: '[degF]', symbol: '°F', quantity: 'temperature' },
  { code: 'K', symbol: 'K', quantity: 'temperature' },
  { code: '%', symbol: '%', quantity: 'share' },
  { code: '[ppm]', symbol: 'ppm', quantity: 'share' },
  { code: '[ppb]', symbol: 'ppb', quantity: 'share' },
  { code: 'Pa', symbol: 'Pa', quantity: 'pressure' },
  { code: 'hPa', symbol: 'hPa', quantity: 'pressure' },
  { code: 'bar', symbol: 'bar', quantity: 'pressure' },
  { code: 'mm', symbol: 'mm', quantity: 'length' },
  { code: 'cm', symbol: 'cm', quantity: 'length' },
  { code: 'm', symbol: 'm', quantity: 'length' },
  { code: 'L', symbol: 'L', quantity: 'volume' },
  { code: 'm3', symbol: 'm³', quantity: 'volume' },
  { code: 'L/min', symbol: 'L/min', quantity: 'flow' },
  { code: 'm3/h', symbol: 'm³/h', quantity: 'flow' },
  { code: 'm/s', symbol: 'm/s', quantity: 'speed' },
  { code: 'km/h', symbol: 'km/h', quantity: 'speed' },
  { code: 'm/s2', symbol: 'm/s²', quantity: 'acceleration' },
  { code: 'kg', symbol: 'kg', quantity: 'mass' },
  { code: 'g', symbol: 'g', quantity: 'mass' },
  { code: 'V', symbol: 'V', quantity: 'voltage' },
  { code: 'mV', symbol: 'mV', quantity: 'voltage' },
  { code: 'A', symbol: 'A', quantity: 'current' },
  { code: 'W', symbol: 'W', quantity: 'power' },
  { code: 'kW.h', symbol: 'kWh', quantity: 'energy' },
  { code: 'lx', symbol: 'lx', quantity: 'illuminance' },
  { code: '[pH]', symbol: 'pH', quantity: 'acidity' },
  { code: 'deg', symbol: '°', quantity: 'angle' },
  { code: 'Hz', symbol: 'Hz', quantity: 'frequency' },
  { code: 's', symbol: 's', quantity: 'time' },
]

const symbols = new Map(units.map((unit) => [unit.code, unit.symbol]))

/** What a code says besides its unit (UCUM, section 6): relative humidity `%{RH}` is a share, and not a charge `%{EL}`. */
const annotation = /\{([^{}]*)\}/g

const bare = (code: string): string => code.replaceAll(annotation, '')

/** The symbol people know for a UCUM code; a code we do not list is shown as it is. */
export const unitSymbol = (code: string): string => {
  const known = symbols.get(bare(code))
  if (known === undefined) return code
  return [known, ...Array.from(code.matchAll(annotation), ([, said]) => said)].join(' ')
}

/** Whether values in one unit may stand under the other: a code that says more of the same unit agrees with one that does not. */
export const unitsAgree = (one: string, other: string): boolean =>
  one === other || (bare(one) === bare(other) && (bare(one) === one || bare(other) === other))
