import { measureOf } from './measureOf.ts'

/** How a value in one unit is told in another: `value × multiply ÷ divide + add`, whole numbers where it is exact. */
export interface UnitConversion {
  readonly multiply: number
  readonly divide: number
  readonly add: number
}

/**
 * How values go from one unit to another of the same dimension. Worked out in fractions, so that 20 °C are 68 °F.
 * @returns undefined where they measure different things
 * @throws UnitError when one of them is no unit
 */
export function between(from: string, to: string): UnitConversion | undefined {
  const source = measureOf(from)
  const target = measureOf(to)
  if (source.dimension !== target.dimension) return undefined
  const factor = source.factor.div(target.factor)
  const add = source.offset.mul(factor).sub(target.offset)
  return {
    multiply: Number(factor.n) * Number(factor.s),
    divide: Number(factor.d),
    add: add.valueOf(),
  }
}

/** Tells a value in the other unit. */
export const convertedTo = (value: number, { multiply, divide, add }: UnitConversion): number =>
  (value * multiply) / divide + add

/** How many decimals tell in the other unit what so many told in the first. */
export function decimalsIn(decimals: number, { multiply, divide }: UnitConversion): number {
  const step = (10 ** -decimals * Math.abs(multiply)) / divide
  // What is a whole power of ten is not to be pushed beyond it by the last digit of a float.
  return Math.min(9, Math.max(0, Math.ceil(-Math.log10(step) - 1e-9)))
}
