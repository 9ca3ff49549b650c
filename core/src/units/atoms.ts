/** What a unit of UCUM is made of: so many of another unit. `isMetric` where prefixes may stand before it. */
export interface Atom {
  readonly code: string
  /** A whole number or a decimal fraction, exactly as the standard states it. */
  readonly value: string
  /** Undefined for what is measured in itself: the seven base units of UCUM, and what compares with nothing else. */
  readonly of?: string
  readonly isMetric?: boolean
  /** Added before multiplying: 0 °C is 273.15 K. */
  readonly offset?: string
}

const metric = (code: string, value?: string, of?: string, offset?: string): Atom => ({
  code,
  value: value ?? '1',
  isMetric: true,
  ...(of !== undefined && { of }),
  ...(offset !== undefined && { offset }),
})
const plain = (code: string, value?: string, of?: string, offset?: string): Atom => ({
  ...metric(code, value, of, offset),
  isMetric: false,
})

/** The atoms of the Unified Code for Units of Measure (UCUM 2.1, tables 2 to 22) that measurements are told in. */
const listed: readonly Atom[] = [
  // Base units.
  metric('m'),
  metric('s'),
  metric('g'),
  metric('rad'),
  metric('K'),
  metric('C'),
  metric('cd'),
  // Numbers.
  plain('10*', '10', '1'),
  plain('10^', '10', '1'),
  plain('[pi]', String(Math.PI), '1'),
  plain('%', '0.01', '1'),
  plain('[ppth]', '0.001', '1'),
  plain('[ppm]', '0.000001', '1'),
  plain('[ppb]', '0.000000001', '1'),
  plain('[pptr]', '0.000000000001', '1'),
  metric('mol', '602214076000000000000000', '1'),
  // Derived units of the SI.
  metric('sr', '1', 'rad2'),
  metric('Hz', '1', 's-1'),
  metric('N', '1', 'kg.m/s2'),
  metric('Pa', '1', 'N/m2'),
  metric('J', '1', 'N.m'),
  metric('W', '1', 'J/s'),
  metric('A', '1', 'C/s'),
  metric('V', '1', 'J/C'),
  metric('F', '1', 'C/V'),
  metric('Ohm', '1', 'V/A'),
  metric('S', '1', 'Ohm-1'),
  metric('Wb', '1', 'V.s'),
  metric('Cel', '1', 'K', '273.15'),
  metric('T', '1', 'Wb/m2'),
  metric('H', '1', 'Wb/A'),
  metric('lm', '1', 'cd.sr'),
  metric('lx', '1', 'lm/m2'),
  metric('Bq', '1', 's-1'),
  metric('Gy', '1', 'J/kg'),
  metric('Sv', '1', 'J/kg'),
  // Other units from ISO 1000, ISO 2955 and ANSI X3.50.
  plain('gon', '0.9', 'deg'),
  plain('deg', '2', '[pi].rad/360'),
  plain("'", '1', 'deg/60'),
  plain("''", '1', "'/60"),
  metric('l', '1', 'dm3'),
  metric('L', '1', 'l'),
  metric('ar', '100', 'm2'),
  plain('min', '60', 's'),
  plain('h', '60', 'min'),
  plain('d', '24', 'h'),
  plain('wk', '7', 'd'),
  plain('a', '365.25', 'd'),
  plain('mo', '30.4375', 'd'),
  metric('t', '1000', 'kg'),
  metric('bar', '100000', 'Pa'),
  metric('u', '0.00000000000000000000000166053906660', 'g'),
  metric('eV', '0.0000000000000000001602176634', 'J'),
  // Natural, older and customary units.
  metric('[c]', '299792458', 'm/s'),
  metric('[g]', '9.80665', 'm/s2'),
  plain('atm', '101325', 'Pa'),
  metric('gf', '1', 'g.[g]'),
  metric('dyn', '1', 'g.cm/s2'),
  metric('erg', '1', 'dyn.cm'),
  metric('P', '1', 'dyn.s/cm2'),
  metric('St', '1', 'cm2/s'),
  metric('G', '0.0001', 'T'),
  metric('Ci', '37000000000', 'Bq'),
  metric('cal', '4.184', 'J'),
  metric('m[H2O]', '9.80665', 'kPa'),
  metric('m[Hg]', '133.322', 'kPa'),
  plain("[in_i'H2O]", '1', 'm[H2O].[in_i]/m'),
  plain("[in_i'Hg]", '1', 'm[Hg].[in_i]/m'),
  plain('[in_i]', '2.54', 'cm'),
  plain('[ft_i]', '12', '[in_i]'),
  plain('[yd_i]', '3', '[ft_i]'),
  plain('[mi_i]', '5280', '[ft_i]'),
  plain('[nmi_i]', '1852', 'm'),
  plain('[kn_i]', '1', '[nmi_i]/h'),
  plain('[sft_i]', '1', '[ft_i]2'),
  plain('[cft_i]', '1', '[ft_i]3'),
  plain('[gal_us]', '231', '[in_i]3'),
  plain('[foz_us]', '1', '[gal_us]/128'),
  plain('[gal_br]', '4.54609', 'l'),
  plain('[gr]', '64.79891', 'mg'),
  plain('[lb_av]', '7000', '[gr]'),
  plain('[oz_av]', '1', '[lb_av]/16'),
  plain('[lbf_av]', '1', '[lb_av].[g]'),
  plain('[psi]', '1', '[lbf_av]/[in_i]2'),
  plain('[degF]', '5', 'K/9', '459.67'),
  plain('[Btu_IT]', '1.05505585262', 'kJ'),
  plain('[HP]', '550', '[ft_i].[lbf_av]/s'),
  metric('kat', '1', 'mol/s'),
  metric('eq', '1', 'mol'),
  metric('osm', '1', 'mol'),
  // What compares with itself only: levels, arbitrary units, information.
  plain('[pH]'),
  metric('Np'),
  metric('B'),
  metric('B[SPL]'),
  metric('B[V]'),
  metric('B[W]'),
  metric('[iU]'),
  metric('bit'),
  metric('By', '8', 'bit'),
  metric('Bd'),
]

export const atoms: ReadonlyMap<string, Atom> = new Map(listed.map((atom) => [atom.code, atom]))

/** The prefixes of the SI, as powers of ten. */
export const prefixes: Readonly<Record<string, number>> = {
  Y: 24,
  Z: 21,
  E: 18,
  P: 15,
  T: 12,
  G: 9,
  M: 6,
  k: 3,
  h: 2,
  da: 1,
  d: -1,
  c: -2,
  m: -3,
  u: -6,
  n: -9,
  p: -12,
  f: -15,
  a: -18,
  z: -21,
  y: -24,
}
