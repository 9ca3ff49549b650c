import { decodePairs } from './decodePairs.ts'

const read = (text: string) => decodePairs(text, 0)

it.each([
  ['temp=21.5 hum=48', { '/temp': 21.5, '/hum': 48 }],
  ['temp = 21.5, hum = 48', { '/temp': 21.5, '/hum': 48 }],
  ['a=1;b=on;c=true', { '/a': 1, '/b': 'on', '/c': true }],
  ['probe.top=6.4 note="all well, so far"', { '/probe/top': 6.4, '/note': 'all well, so far' }],
  ['boot ok, temp=21.5', { '/temp': 21.5 }],
])('%s', (text, fields) => {
  expect(read(text)).toEqual([
    { fields: Object.entries(fields).map(([pointer, value]) => ({ pointer, value })) },
  ])
})

it('takes t as the time, and each line as a record', () => {
  expect(read('t=1777636800 a=1\r\nt=1777636801 a=2\r\n')).toMatchObject([
    { time: 1777636800 },
    { time: 1777636801 },
  ])
})

it('says when there is no pair', () => {
  expect(read('hello')).toEqual({ failure: expect.stringContaining('no pair') })
})

it('refuses a decimal comma instead of reading half of it, and a number without a name', () => {
  expect(read('ph=6,61')).toEqual([{ fields: [{ pointer: '/ph', value: '6,61' }] }])
  expect(read('ph=6,61,temp=21,5')).toMatchObject([{ fields: [{ value: '6,61' }, { value: '21,5' }] }])
  expect(read('ph=6, 61')).toMatchObject([
    { fields: [{ pointer: '/61', problem: expect.stringContaining('without a name') }, { value: 6 }] },
  ])
})
