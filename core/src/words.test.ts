import { addressFromName, addressPattern } from './address.ts'
import { describeAge } from './age.ts'
import { readCredential, writeCredential } from './credential.ts'
import { formatValue, resolutionOf } from './formatValue.ts'
import { signalName } from './signalName.ts'

describe('addressFromName', () => {
  it.each([
    ['Brine tank', 'brine-tank'],
    ['Cave 1, soft rinds', 'cave-1-soft-rinds'],
    ['Käse & Rahm', 'kase-rahm'],
    ['pH meter, CO₂', 'ph-meter-co'],
    ['  --  ', ''],
    ['a'.repeat(60), 'a'.repeat(40)],
  ])('makes of %j the address %j', (name, address) => {
    expect(addressFromName(name)).toBe(address)
    if (address) expect(address).toMatch(new RegExp(addressPattern))
  })
})

describe('signalName', () => {
  it('makes a name a person would write', () => {
    expect(signalName('/vatTop_temp')).toBe('Vat top temp')
    expect(signalName('/probes/0/temp')).toBe('Probes 0 temp')
  })

  it('keeps a field that holds no letters as it is', () => {
    expect(signalName('/°')).toBe('°')
  })
})

describe('credential', () => {
  it('is divided at the first full stop', () => {
    const credential = { address: 'milk-vat', secret: 'a.b' }
    expect(readCredential(writeCredential(credential))).toEqual(credential)
    expect(readCredential('nodot')).toBeUndefined()
    expect(readCredential('.x')).toBeUndefined()
    expect(readCredential('x.')).toBeUndefined()
  })
})

describe('describeAge', () => {
  it.each([
    [-500, 'just now'],
    [12_400, '12 s ago'],
    [61_000, '1 min ago'],
    [3 * 3_600_000, '3 h ago'],
    [72 * 3_600_000, '3 d ago'],
  ])('%d ms reads %s', (age, words) => {
    expect(describeAge(age)).toBe(words)
  })
})

describe('formatValue', () => {
  it.each([
    [21.456, '21.5'],
    [7.126, '7.13'],
    [0, '0'],
    [820, '820'],
    [101325.26, '101\u202f325.3'],
    [-1234567, '-1\u202f234\u202f567'],
    [0.0001, '1.00e-4'],
  ])('%d reads %s', (value, text) => {
    expect(formatValue(value, 'number')).toBe(text)
  })

  it('says off and on for a switch', () => {
    expect([formatValue(0, 'switch'), formatValue(1, 'switch')]).toEqual(['off', 'on'])
  })

  it('keeps the decimals of its signal, so that a live number does not dance', () => {
    const decimals = resolutionOf([7.12, 7.1])
    expect(formatValue(7.1, 'number', decimals)).toBe('7.10')
    expect(formatValue(62, 'number', resolutionOf([0, 62]))).toBe('62')
  })
})
