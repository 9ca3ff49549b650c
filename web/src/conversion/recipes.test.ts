import { compileFormula } from '@jaunty-sparrow/core/formula'
import { isUnit } from '@jaunty-sparrow/core/units'
import mapValues from 'lodash-es/mapValues.js'
import { recipes } from './recipes.ts'

const made = (name: string, x: number, given: Record<string, number> = {}) => {
  const recipe = recipes.find((one) => one.name === name)
  if (!recipe) throw new Error(`there is no ${name}`)
  const formula = compileFormula(recipe.write({ ...mapValues(recipe.questions, 'usually'), ...given }))
  if ('problem' in formula) throw new Error(formula.problem)
  return formula.evaluate({ x, field: () => undefined, constant: () => undefined })
}

it.each(recipes)('$name writes a formula that can be read', (recipe) => {
  expect(compileFormula(recipe.write(mapValues(recipe.questions, 'usually')))).not.toHaveProperty('problem')
  expect(recipe.unit === '' || isUnit(recipe.unit)).toBe(true)
})

it.each([
  // Half the supply: both resistors are the same, so it is 25 °C; with less over it, it is hotter.
  ['Thermistor to ground, on an analog input', 2048, {}, 25],
  ['Thermistor to supply, on an analog input', 2048, {}, 25],
  // A quarter of the counts of 3.3 V behind two equal resistors.
  ['Voltage behind a divider, such as a battery', 1024, {}, 1.65],
  ['Platinum resistor, its resistance is sent', 138.51, {}, 100],
  ['4–20 mA over a resistor, on an analog input', 2234.1818, {}, 50],
  ['Echo ranger: how deep it is below it', 5827.5, {}, 0.5],
])('%s makes of %d %j', (name, x, given, value) => {
  expect(made(name, x, given)).toEqual({ value: expect.closeTo(value, 1) })
})

it('knows on which side the sensor is', () => {
  const hot = made('Thermistor to ground, on an analog input', 1000)
  const cold = made('Thermistor to supply, on an analog input', 1000)
  expect(hot).toEqual({ value: expect.closeTo(52.8, 0) })
  expect(cold).toEqual({ value: expect.closeTo(1.6, 0) })
})
