import words from 'lodash-es/words.js'

/** A number of a message, as its unit is guessed from. */
export interface NamedNumber {
  /** JSON Pointer. */
  readonly pointer: string
  readonly value: number
}

/** Units that names end in, as people write them without signs. */
const written: Readonly<Record<string, string>> = {
  c: 'Cel',
  degc: 'Cel',
  celsius: 'Cel',
  degf: '[degF]',
  fahrenheit: '[degF]',
  kelvin: 'K',
  pct: '%',
  percent: '%',
  perc: '%',
  ppm: '[ppm]',
  ppb: '[ppb]',
  pa: 'Pa',
  hpa: 'hPa',
  kpa: 'kPa',
  mbar: 'mbar',
  bar: 'bar',
  psi: '[psi]',
  mv: 'mV',
  volts: 'V',
  ma: 'mA',
  amps: 'A',
  mw: 'mW',
  kw: 'kW',
  wh: 'W.h',
  kwh: 'kW.h',
  hz: 'Hz',
  khz: 'kHz',
  um: 'um',
  mm: 'mm',
  cm: 'cm',
  km: 'km',
  ml: 'mL',
  l: 'L',
  litres: 'L',
  liters: 'L',
  lpm: 'L/min',
  lph: 'L/h',
  kmh: 'km/h',
  kph: 'km/h',
  mph: '[mi_i]/h',
  mps: 'm/s',
  knots: '[kn_i]',
  kg: 'kg',
  mg: 'mg',
  lx: 'lx',
  dbm: 'dB{mW}',
  deg: 'deg',
  rpm: '/min',
  bytes: 'By',
  sec: 's',
  seconds: 's',
  minutes: 'min',
  ms: 'ms',
}

/** Single letters mean a unit only behind a name that fits. */
const letters: Readonly<Record<string, readonly [name: RegExp, unit: string]>> = {
  f: [/^(?:temp|dew)/, '[degF]'],
  k: [/^temp/, 'K'],
  v: [/^(?:bat|panel|supply|voltage|u$)/, 'V'],
  a: [/^(?:current|i$)/, 'A'],
  w: [/^(?:power|load)/, 'W'],
  m: [/^(?:level|dist|depth|alt|height|range)/, 'm'],
  g: [/^(?:mass|weight|load)/, 'g'],
  s: [/^(?:up|time|age|interval)/, 's'],
  us: [/^(?:ec|cond)/, 'uS/cm'],
  db: [/^(?:noise|sound|spl|loud)/, 'dB[SPL]'],
}

type Rule = readonly [name: RegExp, unit: string | null | ((value: number) => string | null)]

const byPressure = (value: number): string =>
  value > 20_000 ? 'Pa' : value >= 300 ? 'hPa' : value >= 30 ? 'kPa' : 'bar'
const byBattery = (value: number): string =>
  value > 1000 ? 'mV' : value > 15 && Number.isInteger(value) && value <= 100 ? '%' : 'V'
const byShare = (value: number): string => (value > 0 && value < 1 ? '1' : '%')

/** What names of quantities mean, the first that fits; a function where the number has to tell. */
const rules: readonly Rule[] = [
  [/^(?:wind|vane)?(?:dir|direction|bearing|heading|azimuth)\b/, 'deg'],
  [/^wind(?:dir|direction|bearing)/, 'deg'],
  [/^(?:pitch|roll|yaw|tilt|angle|lat|lon|latitude|longitude)$/, 'deg'],
  [/^(?:wind|gust|speed|velocity)/, 'm/s'],
  [/^(?:temp|tmp|temperature|dew|dewpoint|therm)/, (value) => (value > 230 && value < 330 ? 'K' : 'Cel')],
  [/^(?:hum|humidity|rh|moisture|wet)/, byShare],
  [/^(?:press|pressure|baro)/, byPressure],
  [/^(?:co2|nh3|ammonia|ch4|methane|co|no2|h2s|eco2)$/, '[ppm]'],
  [/^(?:voc|tvoc|ozone|o3)$/, '[ppb]'],
  [/^(?:pm|dust)\d*$/, 'ug/m3'],
  [/^(?:lux|light|illum|ldr|ambient)/, 'lx'],
  [/^(?:solar|irradiance|radiation)/, 'W/m2'],
  [/^(?:bat|batt|battery|soc)$/, byBattery],
  [/^rssi$/, 'dB{mW}'],
  [/^snr$/, 'dB'],
  [/^(?:orp|redox)$/, 'mV'],
  [
    /^(?:v|vbat|vbatt|vpanel|vcc|vdd|vin|vout|volt|voltage|u|supply)$/,
    (value) => (value > 1000 ? 'mV' : 'V'),
  ],
  [/^(?:current|amp|i)$/, 'A'],
  [/^(?:power|watt|watts|p)$/, 'W'],
  [/^energy$/, 'W.h'],
  [/^(?:freq|frequency)$/, 'Hz'],
  [/^(?:rain|precip|precipitation|snow)/, 'mm'],
  [/^(?:dist|distance|range|echo|sonar|depth)/, (value) => (value >= 500 ? 'mm' : value >= 20 ? 'cm' : 'm')],
  [/^(?:alt|altitude|elevation|height)$/, 'm'],
  [/^(?:volume|vol)$/, 'L'],
  [/^flow/, 'L/min'],
  [/^ph$/, '[pH]'],
  [/^(?:ec|conductivity)$/, (value) => (value >= 20 ? 'uS/cm' : 'mS/cm')],
  [/^tds$/, 'mg/L'],
  [/^(?:weight|mass|load|tare)$/, (value) => (value >= 500 ? 'g' : 'kg')],
  [/^(?:uptime|age)$/, 's'],
  [/^(?:heap|mem|memory|free)/, 'By'],
  [/^(?:duty|pwm|valve|brightness|dimmer|opening|fill)$/, byShare],
  [/^(?:noise|sound|loudness|spl)/, 'dB[SPL]'],
]

/**
 * Guesses the units of a message's numbers, from what they are called and what they are: by what a name ends in, by the quantity
 * it names, and with its neighbours where three of them are axes. A guess is to be shown as one.
 * @returns UCUM codes by JSON Pointer; what nothing is known of is left out
 */
export function guessUnits(numbers: readonly NamedNumber[]): ReadonlyMap<string, string> {
  const guessed = new Map<string, string>()
  for (const number of numbers) {
    const unit = ofAxis(number, numbers) ?? ofName(number)
    if (unit) guessed.set(number.pointer, unit)
  }
  return guessed
}

/** The words of the last segment; 2_5 and 25 of a particle size are one. */
const wordsOf = (pointer: string): string[] =>
  words(
    pointer
      .split('/')
      .at(-1)
      ?.replaceAll(/(?<=\d)_(?=\d)/g, '') ?? '',
    /[A-Z]{2,}\d*(?![a-z])|[A-Za-z][a-z]*\d*/g,
  ).map((word) => word.toLowerCase())

function ofName({ pointer, value }: NamedNumber): string | undefined {
  const named = wordsOf(pointer)
  const last = named.at(-1)
  if (last === undefined) return undefined
  const [first = ''] = named
  const isWhole = named.length > 1
  const letter = letters[last]
  if (isWhole && letter?.[0].test(first)) return letter[1]
  const unit = written[last]
  if (unit !== undefined && (isWhole || last.length > 2)) return unit
  if (named.includes('rate') && /^(?:rain|precip)/.test(first)) return 'mm/h'
  // The word that names the quantity stands last or first: soil_temp, wind_dir, temp_outside.
  for (const word of [named.slice(-2).join(''), last, ...named.toReversed()])
    for (const [name, made] of rules)
      if (name.test(word)) return (typeof made === 'function' ? made(value) : made) ?? undefined
  return undefined
}

const axis = /^(.*?)([xyz])$/i
const accelerometer = /acc|(?:^|\/)a$/i

/** Where x, y and z stand together, all three tell: one of them feels the earth, as 1 or as 9.81. */
function ofAxis({ pointer }: NamedNumber, numbers: readonly NamedNumber[]): string | undefined {
  const [, stem] = axis.exec(pointer) ?? []
  if (stem === undefined || !accelerometer.test(stem.replace(/\/$/, ''))) return undefined
  const together = numbers.filter((other) => axis.exec(other.pointer)?.[1] === stem)
  if (together.length !== 3) return undefined
  return Math.hypot(...together.map(({ value }) => value)) > 4 ? 'm/s2' : '[g]'
}
