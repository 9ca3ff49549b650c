import type { QuantityFunction } from '../physics/index.ts'
import { quantityFunctions } from '../physics/index.ts'

const arithmetic = (
  name: string,
  says: string,
  takes: readonly string[],
  of: QuantityFunction['of'],
  repeats?: number,
): QuantityFunction => ({
  name,
  says,
  takes: takes.map((parameter) => ({ name: parameter, unit: '' })),
  ...(repeats !== undefined && { repeats }),
  gives: '',
  source: 'ECMA-262, Math.',
  example: `${name}(${['x', ...takes.slice(1).map((_, place) => place + 1)].join(', ')})`,
  of,
})

/** What every language of formulas has. */
const plainFunctions: readonly QuantityFunction[] = [
  arithmetic('min', 'The least of several.', ['a', 'b'], Math.min, 1),
  arithmetic('max', 'The greatest of several.', ['a', 'b'], Math.max, 1),
  arithmetic(
    'between',
    'The number itself, kept within two bounds.',
    ['value', 'low', 'high'],
    (value, low, high) => Math.min(high, Math.max(low, value)),
  ),
  arithmetic('abs', 'Without its sign.', ['value'], Math.abs),
  arithmetic('round', 'To so many decimals.', ['value', 'decimals'], (value, decimals) => {
    const tens = 10 ** decimals
    return Math.round(value * tens) / tens
  }),
  arithmetic('floor', 'The whole number below.', ['value'], Math.floor),
  arithmetic('ceil', 'The whole number above.', ['value'], Math.ceil),
  arithmetic('sqrt', 'The square root.', ['value'], Math.sqrt),
  arithmetic('exp', 'e to the power.', ['value'], Math.exp),
  arithmetic('ln', 'The natural logarithm.', ['value'], Math.log),
  arithmetic('log10', 'The logarithm to base ten.', ['value'], Math.log10),
  arithmetic('sin', 'The sine of an angle in degrees.', ['degrees'], (degrees) =>
    Math.sin((degrees * Math.PI) / 180),
  ),
  arithmetic('cos', 'The cosine of an angle in degrees.', ['degrees'], (degrees) =>
    Math.cos((degrees * Math.PI) / 180),
  ),
  arithmetic(
    'atan2',
    'The angle of a direction, in degrees.',
    ['y', 'x'],
    (y, x) => (Math.atan2(y, x) * 180) / Math.PI,
  ),
]

/** All functions a formula may call, by name. */
export const functions: ReadonlyMap<string, QuantityFunction> = new Map(
  [...quantityFunctions, ...plainFunctions].map((one) => [one.name, one]),
)

export type Operator = (a: number, b: number) => number

const truth = (is: boolean): number => (is ? 1 : 0)

/** What may stand between two numbers, with how strongly it binds. */
export const operators: Readonly<Record<string, { readonly binds: number; readonly of: Operator }>> = {
  '||': { binds: 1, of: (a, b) => truth(a !== 0 || b !== 0) },
  '&&': { binds: 2, of: (a, b) => truth(a !== 0 && b !== 0) },
  '==': { binds: 6, of: (a, b) => truth(a === b) },
  '!=': { binds: 6, of: (a, b) => truth(a !== b) },
  '<': { binds: 7, of: (a, b) => truth(a < b) },
  '>': { binds: 7, of: (a, b) => truth(a > b) },
  '<=': { binds: 7, of: (a, b) => truth(a <= b) },
  '>=': { binds: 7, of: (a, b) => truth(a >= b) },
  '+': { binds: 9, of: (a, b) => a + b },
  '-': { binds: 9, of: (a, b) => a - b },
  '*': { binds: 10, of: (a, b) => a * b },
  '/': { binds: 10, of: (a, b) => a / b },
  '%': { binds: 10, of: (a, b) => a % b },
  '^': { binds: 11, of: (a, b) => a ** b },
}

/** What may stand before one. */
export const signs: Readonly<Record<string, (value: number) => number>> = {
  '-': (value) => -value,
  '+': (value) => value,
  '!': (value) => truth(value === 0),
}

/** Numbers that have a name of their own. */
export const namedNumbers: ReadonlyMap<string, number> = new Map([['pi', Math.PI]])
