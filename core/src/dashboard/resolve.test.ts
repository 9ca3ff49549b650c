import { usualSettings } from '../signal/index.ts'
import type { Chapter } from './dashboard.ts'
import { nowOf, proposeDashboard } from './proposeDashboard.ts'
import { placed, resolve, type StandingDevice, type StandingSignal } from './resolve.ts'

const known = {
  propose: () => ({ kind: 'value', importance: 'normal' }) as const,
  most: (kind: string) => (kind === 'table' ? 40 : 1),
}
let lastId = 0
const signal = (definitionId: number, part = '', more: Partial<StandingSignal> = {}): StandingSignal => ({
  id: ++lastId,
  definitionId,
  part,
  partName: part === '' ? '' : `the ${part} one`,
  state: 'accepted',
  isFormer: false,
  ...more,
})
const device = (
  id: number,
  kit: number,
  signals: StandingSignal[],
  siteId = 1,
): StandingDevice<StandingSignal> => ({
  id,
  name: `Device ${id}`,
  address: `device-${id}`,
  siteId,
  kit: { id: kit },
  signals,
})
const chapter = (more: Partial<Chapter>): Chapter => ({
  id: 'c',
  title: '',
  repeat: null,
  instruments: [],
  phone: null,
  ...more,
})
const value = { kind: 'value', importance: 'normal' } as const
const ids = (chapters: ReturnType<typeof resolve>) =>
  chapters.map(({ title, instruments }) => [
    title,
    instruments.map(({ signals }) => signals.map(({ id }) => id)),
  ])

it('stands once for each device at a site, with all that it says, and grows with it', () => {
  const [one, two] = [device(1, 7, [signal(1), signal(2)]), device(2, 8, [signal(3)], 2)]
  const three = device(3, 9, [
    signal(4),
    signal(5, '', { state: 'suggested' }),
    signal(6, '', { isFormer: true }),
  ])
  const found = resolve(nowOf(1), [one, two, three], known)
  expect(ids(found)).toEqual([
    ['Device 1', one.signals.map(({ id }) => [id])],
    ['Device 3', [[three.signals[0]?.id]]],
  ])
})

it('stands for each device of a kit, and shows the signal that each has by its definition', () => {
  const page = {
    chapters: [
      chapter({
        repeat: { each: 'device-of-kit', kitId: 7, siteId: null },
        instruments: [placed('t', value, [{ definition: 1 }])],
      }),
    ],
  }
  const [one, two] = [device(1, 7, [signal(1), signal(2)]), device(2, 7, [signal(1)], 2)]
  expect(ids(resolve(page, [one, device(3, 8, [signal(1)])], known))).toEqual([
    ['Device 1', [[one.signals[0]?.id]]],
  ])
  expect(ids(resolve(page, [one, two], known)).map(([title]) => title)).toEqual(['Device 1', 'Device 2'])
})

it('stands for each part of a device, called as people call it', () => {
  const probes = device(1, 7, [signal(1, 'top'), signal(1, 'bottom'), signal(2)])
  const page = {
    chapters: [
      chapter({
        repeat: { each: 'part', deviceId: 1 },
        instruments: [placed('t', value, [{ definition: 1 }])],
      }),
    ],
  }
  expect(ids(resolve(page, [probes], known))).toEqual([
    ['the top one', [[probes.signals[0]?.id]]],
    ['the bottom one', [[probes.signals[1]?.id]]],
  ])
  const more = { ...probes, signals: [...probes.signals, signal(1, 'middle')] }
  expect(resolve(page, [more], known)).toHaveLength(3)
})

it('shows like parts side by side: one instrument each, or all in one that takes many', () => {
  const probes = device(1, 7, [signal(1, 'top'), signal(1, 'bottom')])
  const shown = (kind: string) =>
    resolve(
      {
        chapters: [
          chapter({
            repeat: { each: 'device-of-kit', kitId: 7, siteId: 1 },
            instruments: [placed('t', { ...value, kind }, [{ definition: 1 }])],
          }),
        ],
      },
      [probes],
      known,
    )[0]?.instruments.map(({ signals }) => signals.length)
  expect(shown('value')).toEqual([1, 1])
  expect(shown('table')).toEqual([2])
})

it('tells how many signals of an instrument are not there any more', () => {
  const one = device(1, 7, [signal(1)])
  const page = {
    chapters: [chapter({ instruments: [placed('t', value, [{ signal: 99_999 }])] })],
  }
  expect(resolve(page, [one], known)[0]?.instruments[0]).toMatchObject({ signals: [], missing: 1 })
})

it('proposes states first, then the rest, then courses of what can share a frame', () => {
  const described = (kind: 'number' | 'switch', unit: string | null, high: number) => ({
    kind,
    unit,
    range: usualSettings.range,
    limits: null,
    shown: { low: 0, high },
  })
  const signals = [
    described('number', 'Cel', 20),
    described('number', 'ppm', 5000),
    described('number', 'ppm', 20),
    described('switch', null, 1),
    described('number', 'Cel', 30),
  ]
  const page = proposeDashboard({
    signals,
    refOf: (of) => ({ signal: signals.indexOf(of) }),
    repeat: null,
    title: 'Cave',
    fitting: ({ kind }) => ({ kind: kind === 'switch' ? 'states' : 'value', importance: 'normal' }),
  })
  const shown = page.chapters[0]?.instruments?.map(({ kind, signals: refs }) => [
    kind,
    refs.map((ref) => ('signal' in ref ? ref.signal : 0)),
  ])
  expect(shown).toEqual([
    ['states', [3]],
    ['value', [0]],
    ['value', [1]],
    ['value', [2]],
    ['value', [4]],
    ['course', [0, 4]],
    ['course', [1]],
    ['course', [2]],
  ])
})
