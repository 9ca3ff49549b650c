import { isStoreAway, whyStoreAway } from './databaseError.ts'

const withCode = (code: string) => Object.assign(new Error('so it says'), { code })

it.each([
  ['25006', /read-only/],
  ['53100', /disk .* full/],
  ['40P01', /busy/],
  ['53300', /busy/],
  ['57014', /busy/],
  ['57P01', /stopping/],
  ['57P03', /starting/],
  ['08006', /reached/],
  ['ECONNREFUSED', /reached/],
  ['42P01', /its log/],
  ['XX001', /its log/],
])('%s means that the store is away, and why', (code, reason) => {
  expect(whyStoreAway(withCode(code))).toMatch(reason)
  expect(whyStoreAway(new Error('while writing', { cause: withCode(code) }))).toMatch(reason)
})

it.each(['22021', '22003', '23505', '23514', '54000', 'ERR_OUT_OF_RANGE'])(
  '%s is about what was sent',
  (code) => {
    expect(isStoreAway(withCode(code))).toBe(false)
  },
)

it('is not misled by an error that is its own cause', () => {
  const error = new Error('round and round')
  error.cause = error
  expect(isStoreAway(error)).toBe(false)
})
