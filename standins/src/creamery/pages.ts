import type { BodyOf, Device, routes } from '@jaunty-sparrow/contract'

type Page = Omit<BodyOf<typeof routes.createDashboard>, 'siteId' | 'isMine' | 'role'>
type Chapter = Page['shows']['chapters'][number]
type Instrument = NonNullable<Chapter['instruments']>[number]

/** A drawing of the creamery's pages, as far as it is stated. */
type Stated = Pick<Instrument, 'kind' | 'signals'> & Partial<Instrument>

let ids = 0
const drawn = (stated: Stated): Instrument => ({
  id: `i${++ids}`,
  importance: 'normal',
  title: null,
  settings: {},
  unit: null,
  link: null,
  ...stated,
})
const chapter = (
  id: string,
  title: string,
  instruments: readonly Stated[],
  repeat: Chapter['repeat'] = null,
): Chapter => ({
  id,
  title,
  repeat,
  instruments: instruments.map(drawn),
  phone: null,
})

/** The pages that the people of the creamery have made. */
export function pagesOf(devices: readonly Device[]): Page[] {
  const find = (address: string) => devices.find((device) => device.address === address)
  /** Those of a device that are called so: of like parts several. */
  const signal = (address: string, name: string) =>
    (find(address)?.signals ?? []).filter((each) => each.name === name).map(({ id }) => ({ signal: id }))
  const [cave] = devices.filter(({ address }) => address === 'cave-1')
  const ofCave = (name: string) => {
    const found = cave?.signals.find((each) => each.name === name)
    return found ? [{ definition: found.definitionId }] : []
  }
  const inCaves = (name: string) => ['cave-1', 'cave-2', 'cave-3'].flatMap((address) => signal(address, name))
  return [
    {
      name: 'Caves',
      shows: {
        chapters: [
          chapter(
            'caves',
            '',
            [
              { kind: 'scale', signals: ofCave('Temperature') },
              { kind: 'scale', signals: ofCave('Humidity') },
              { kind: 'scale', signals: ofCave('CO₂') },
              { kind: 'control', signals: ofCave('Fogger') },
            ],
            cave ? { each: 'device-of-kit', kitId: cave.kit.id, siteId: cave.siteId } : null,
          ),
          chapter('day', 'All caves, a day', [
            { kind: 'course', importance: 'large', title: 'Temperature', signals: inCaves('Temperature') },
            { kind: 'course', importance: 'large', title: 'Humidity', signals: inCaves('Humidity') },
          ]),
        ],
      },
    },
    {
      name: 'Brine and milk',
      shows: {
        chapters: [
          chapter('brine', 'Brine store', [
            { kind: 'vessel', signals: signal('brine-store', 'Brine level') },
            {
              kind: 'scale',
              signals: signal('brine-store', 'Brine temperature'),
              settings: { scale: { shape: 'dial' } },
            },
            {
              kind: 'course',
              importance: 'large',
              signals: signal('brine-store', 'Brine level'),
              settings: { course: { value: false } },
            },
          ]),
          chapter('vat', 'Milk vat', [
            {
              kind: 'course',
              importance: 'large',
              title: 'Milk, an hour',
              signals: signal('milk-vat', 'Milk,'),
              settings: { course: { span: 'hour' } },
            },
            { kind: 'control', signals: signal('milk-vat', 'Stirrer') },
            { kind: 'sign', signals: signal('milk-vat', 'Lid open'), settings: { sign: { by: 'state' } } },
          ]),
        ],
      },
    },
    {
      name: 'Weather and delivery',
      shows: {
        chapters: [
          chapter('mast', 'On the mast', [
            { kind: 'compass', signals: signal('weather-mast', 'Wind from') },
            { kind: 'value', signals: signal('weather-mast', 'Wind') },
            {
              kind: 'totals',
              importance: 'large',
              title: 'The warmest of each day',
              signals: signal('weather-mast', 'Air temperature'),
              settings: { totals: { by: 'day', of: 'highest' } },
            },
          ]),
          chapter('box', 'Cool box', [
            { kind: 'map', importance: 'large', signals: signal('cool-box', 'Place') },
            { kind: 'value', signals: signal('cool-box', 'Inside') },
            { kind: 'log', signals: signal('cool-box', 'Says'), settings: { log: { length: 'five' } } },
          ]),
          chapter('shop', 'Farm shop', [
            {
              kind: 'colour',
              title: 'Lamp over the counter',
              signals: ['Red', 'Green', 'Blue'].flatMap((name) => signal('shop-lamp', name)),
            },
            { kind: 'control', signals: signal('shop-lamp', 'Flash') },
          ]),
        ],
      },
    },
  ]
}
