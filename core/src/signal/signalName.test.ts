import { signalName } from './signalName.ts'

describe('signalName', () => {
  it('makes a name a person would write', () => {
    expect(signalName('/vatTop_temp')).toBe('Vat top temp')
    expect(signalName('/probes/0/temp')).toBe('Probes 0 temp')
  })

  it('keeps a field that holds no letters as it is', () => {
    expect(signalName('/°')).toBe('°')
  })
})
