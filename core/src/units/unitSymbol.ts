/** What people write for a unit of UCUM where that is not its code. */
const written: Readonly<Record<string, string>> = {
  Cel: '°C',
  '[degF]': '°F',
  Ohm: 'Ω',
  '[ppth]': '‰',
  '[ppm]': 'ppm',
  '[ppb]': 'ppb',
  '[pptr]': 'ppt',
  deg: '°',
  "'": '′',
  "''": '″',
  By: 'B',
  'm[H2O]': 'mH₂O',
  'm[Hg]': 'mHg',
  "[in_i'H2O]": 'inH₂O',
  "[in_i'Hg]": 'inHg',
  '[in_i]': 'in',
  '[ft_i]': 'ft',
  '[yd_i]': 'yd',
  '[mi_i]': 'mi',
  '[nmi_i]': 'nmi',
  '[kn_i]': 'kn',
  '[sft_i]': 'ft²',
  '[cft_i]': 'ft³',
  '[gal_us]': 'gal',
  '[foz_us]': 'fl oz',
  '[gal_br]': 'gal (UK)',
  '[lb_av]': 'lb',
  '[oz_av]': 'oz',
  '[lbf_av]': 'lbf',
  '[psi]': 'psi',
  '[gr]': 'gr',
  '[Btu_IT]': 'Btu',
  '[HP]': 'hp',
  '[pH]': 'pH',
  '[iU]': 'IU',
  '[g]': 'g₀',
  '[c]': 'c',
  'B[SPL]': 'B SPL',
  'B[V]': 'B V',
  'B[W]': 'B W',
  '10*': '10',
  '10^': '10',
}
const longestFirst = Object.keys(written).sort((a, b) => b.length - a.length)
const superscripts: Readonly<Record<string, string>> = { '-': '⁻', '+': '' }
const raised = (exponent: string): string =>
  exponent.replaceAll(/./g, (sign) => superscripts[sign] ?? '⁰¹²³⁴⁵⁶⁷⁸⁹'[Number(sign)] ?? sign)

/** What a code says besides its unit (UCUM, section 6): relative humidity `%{RH}` is a share, and not a charge `%{EL}`. */
export const annotation = /\{([^{}]*)\}/g

/** The symbol people know for a UCUM code: °C for `Cel`, µg/m³ for `ug/m3`; what is no unit is shown as it is. */
export function unitSymbol(code: string): string {
  const bare = code.replaceAll(annotation, '')
  const said = Array.from(code.matchAll(annotation), ([, words]) => words)
  // A mere number needs no unit.
  if (bare === '1') return said.join(' ')
  const symbol = bare
    .split(/([./()])/)
    .map(partSymbol)
    .join('')
    // As everybody writes kWh and VA.
    .replace(/([Ww])·h\b/, '$1h')
    .replace('V·A', 'VA')
  return [symbol, ...said].join(' ').trim()
}

function partSymbol(part: string): string {
  if (part === '.') return '·'
  if (/^(?:[/()]|\d+)?$/.test(part)) return part
  const [, atom = part, exponent = ''] = /^(.*?[^\d+-])([+-]?\d+)?$/.exec(part) ?? []
  const known = longestFirst.find(
    (name) => atom === name || (atom.endsWith(name) && atom.length <= name.length + 2),
  )
  const mantissa = known === undefined ? atom : atom.slice(0, -known.length) + written[known]
  return mantissa.replace(/^u(?=.)/, 'µ') + raised(exponent)
}
