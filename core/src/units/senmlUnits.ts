/** SenML unit names (RFC 8428, section 12.1, and RFC 8798) whose UCUM code is written differently. */
const differing: Readonly<Record<string, string>> = {
  l: 'L',
  'l/s': 'L/s',
  lat: 'deg',
  lon: 'deg',
  pH: '[pH]',
  Bspl: 'B[SPL]',
  dBW: 'dB[W]',
  count: '1',
  '/': '1',
  '%RH': '%{RH}',
  '%EL': '%{EL}',
  EL: 's',
  '1/s': '/s',
  '1/min': '/min',
  'beat/min': '/min',
  beats: '1',
  Wh: 'W.h',
  kWh: 'kW.h',
  ppm: '[ppm]',
  ppb: '[ppb]',
  'm/h': 'm/h',
}

/** The UCUM code of a SenML unit; most are the same in both. */
export const ucumOfSenml = (unit: string): string => differing[unit] ?? unit
