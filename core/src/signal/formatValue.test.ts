import { formatValue, resolutionOf } from './formatValue.ts'

const number = { kind: 'number', choices: [] } as const

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
    expect(formatValue(value, number)).toBe(text)
  })

  it('says off and on for a switch', () => {
    const onOff = { kind: 'switch', choices: [] } as const
    expect([formatValue(0, onOff), formatValue(1, onOff)]).toEqual(['off', 'on'])
  })

  it('keeps the decimals of its signal, so that a live number does not dance', () => {
    const decimals = resolutionOf([7.12, 7.1])
    expect(formatValue(7.1, number, decimals)).toBe('7.10')
    expect(formatValue(62, number, resolutionOf([0, 62]))).toBe('62')
  })

  it('calls a state by its name, and tells a place and a text', () => {
    const choice = { kind: 'choice', choices: [{ code: 4, name: 'washing down' }] } as const
    expect([formatValue(4, choice), formatValue(5, choice)]).toEqual(['washing down', 'state 5'])
    const position = { kind: 'position', choices: [] } as const
    expect(formatValue({ lat: 53.123456, lon: -6.2 }, position)).toBe('53.12346°\u00a0N 6.20000°\u00a0W')
    expect(formatValue('ajar', { kind: 'text', choices: [] })).toBe('ajar')
  })
})
