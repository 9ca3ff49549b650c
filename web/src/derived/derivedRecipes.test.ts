import { derivationProblem } from '@jaunty-sparrow/core/signal'
import { measureOf } from '@jaunty-sparrow/core/units'
import { derivedRecipes } from './derivedRecipes.ts'

it.each(derivedRecipes)('makes a derivation that is taken of: $name', ({ formula, wants, unit }) => {
  const inputs = wants.map(({ name, take = { by: 'last' as const } }, place) => ({
    name,
    of: { definition: place },
    take,
    ageLimit: 60,
  }))
  expect(derivationProblem({ formula, inputs })).toBeUndefined()
  expect(measureOf(unit('Cel'))).toBeDefined()
})
