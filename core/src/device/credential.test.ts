import { readCredential, writeCredential } from './credential.ts'

describe('credential', () => {
  it('is divided at the first full stop', () => {
    const credential = { address: 'milk-vat', secret: 'a.b' }
    expect(readCredential(writeCredential(credential))).toEqual(credential)
    expect(readCredential('nodot')).toBeUndefined()
    expect(readCredential('.x')).toBeUndefined()
    expect(readCredential('x.')).toBeUndefined()
  })
})
