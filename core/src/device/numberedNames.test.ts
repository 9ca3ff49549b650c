import { numberedNames } from './numberedNames.ts'

it.each([
  ['Cave', ['Cave']],
  ['cave-{1..3}', ['cave-1', 'cave-2', 'cave-3']],
  ['Rack {08..10} left', ['Rack 08 left', 'Rack 09 left', 'Rack 10 left']],
  ['Cave {4..4}', ['Cave 4']],
  ['Cave {1..100}', Array.from({ length: 100 }, (_, place) => `Cave ${place + 1}`)],
  ['Cave {1..101}', undefined],
  ['Cave {3..1}', undefined],
  ['Cave {a..b}', undefined],
  ['Cave {', undefined],
])('makes of %s %j', (pattern, names) => {
  expect(numberedNames(pattern)).toEqual(names)
})
