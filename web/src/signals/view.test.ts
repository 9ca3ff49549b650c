import { moved, paramsOf, stretchOf, viewOf, zoomed } from './view.ts'

const now = Date.UTC(2026, 10, 1)
const view = (text: string) => viewOf(new URLSearchParams(text))

describe('a view in the address bar', () => {
  it('comes back as it was written', () => {
    for (const each of [{ span: 'week' }, { from: now - 5000, to: now }] as const)
      expect(viewOf(new URLSearchParams(paramsOf(each)))).toEqual(each)
  })

  it.each(['', 'span=fortnight', 'from=1', 'from=5&to=4', 'from=x&to=y', 'from=1&to=2', 'span=toString'])(
    'that says %j is an hour up to now',
    (text) => expect(view(text)).toEqual({ span: 'hour' }),
  )

  it('of a span moves on with the clock, one of the past stands still', () => {
    expect(stretchOf({ span: 'hour' }, now)).toEqual({ from: now - 3_600_000, to: now })
    expect(stretchOf({ from: 0, to: 6000 }, now)).toEqual({ from: 0, to: 6000 })
  })
})

describe('zooming', () => {
  const past = { from: now - 100_000, to: now - 50_000 }

  it('leaves the instant where it is that one points at', () => {
    expect(zoomed(past, 0.5, now - 90_000, now)).toEqual({ from: now - 95_000, to: now - 70_000 })
  })

  it('takes in no more than there is, and no less than can be seen', () => {
    expect(zoomed(past, 10, now - 50_000, now)).toEqual({ from: now - 500_000 - 50_000, to: now - 50_000 })
    expect(zoomed(past, 10, now - 100_000, now)).toEqual({ from: now - 500_000, to: now })
    const { from, to } = zoomed(past, 1e-6, now - 75_000, now)
    expect(to - from).toBe(5000)
  })
})

it('going on ends where now is', () => {
  expect(moved({ from: now - 10_000, to: now }, -0.5, now)).toEqual({ from: now - 15_000, to: now - 5000 })
  expect(moved({ from: now - 15_000, to: now - 5000 }, 1, now)).toEqual({ from: now - 10_000, to: now })
})
