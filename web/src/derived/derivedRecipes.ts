import type { Take } from '@jaunty-sparrow/core/signal'

/** One of the signals something follows from. */
interface Wanted {
  readonly name: string
  readonly asks: string
  /** UCUM code of a unit it may be in; any without it. */
  readonly unit?: string
  readonly take?: Take
}

/** Something people want to know, and how it follows from signals. */
export interface DerivedRecipe {
  readonly name: string
  readonly formula: string
  readonly wants: readonly Wanted[]
  /** UCUM code of what comes out, of the unit of the first signal it follows from. */
  readonly unit: (first: string) => string
}

const air: Wanted = { name: 'air', asks: 'Temperature of the air', unit: 'Cel' }
const humidity: Wanted = { name: 'humidity', asks: 'Humidity of the air', unit: '%' }
const same = (unit: string): string => unit
const per = (time: string) => (unit: string) => (unit === '' ? `/${time}` : `${unit}/${time}`)
const quarter = 900

const moving = (
  name: string,
  by: 'mean' | 'lowest' | 'highest' | 'spread',
  called: string,
): DerivedRecipe => ({
  name,
  formula: called,
  wants: [{ name: called, asks: 'Of', take: { by, over: quarter } }],
  unit: same,
})

/** What people want to know most. */
export const derivedRecipes: readonly DerivedRecipe[] = [
  { name: 'Dew point', formula: 'dew_point(air, humidity)', wants: [air, humidity], unit: () => 'Cel' },
  {
    name: 'Water in the air',
    formula: 'absolute_humidity(air, humidity)',
    wants: [air, humidity],
    unit: () => 'g/m3',
  },
  {
    name: 'Vapour-pressure deficit',
    formula: 'vapour_deficit(air, humidity)',
    wants: [air, humidity],
    unit: () => 'kPa',
  },
  {
    name: 'How hot it feels',
    formula: 'heat_index(air, humidity)',
    wants: [air, humidity],
    unit: () => 'Cel',
  },
  {
    name: 'Difference of two',
    formula: 'one - other',
    wants: [
      { name: 'one', asks: 'Of' },
      { name: 'other', asks: 'less' },
    ],
    unit: same,
  },
  {
    name: 'How fast it changes',
    formula: 'change',
    wants: [{ name: 'change', asks: 'Of', take: { by: 'rate', over: quarter, per: 'h' } }],
    unit: per('h'),
  },
  moving('Mean of a while', 'mean', 'mean'),
  moving('Lowest of a while', 'lowest', 'lowest'),
  moving('Highest of a while', 'highest', 'highest'),
  moving('How much it scatters', 'spread', 'spread'),
  {
    name: 'Compared with how it usually is',
    formula: 'index',
    wants: [{ name: 'index', asks: 'Of', take: { by: 'index', over: 'day' } }],
    unit: () => '%',
  },
  {
    name: 'Energy of a power today',
    formula: 'energy / 1000',
    wants: [{ name: 'energy', asks: 'Power', unit: 'W', take: { by: 'integral', over: 'day', per: 'h' } }],
    unit: () => 'kW.h',
  },
  {
    name: 'Hours on, or above a bound, today',
    formula: 'hours',
    wants: [{ name: 'hours', asks: 'Of', take: { by: 'timeAbove', over: 'day', per: 'h', bound: 0.5 } }],
    unit: () => 'h',
  },
  {
    name: 'Counted in an hour, of a counter',
    formula: 'flow',
    wants: [
      { name: 'flow', asks: 'Counter', take: { by: 'counterRate', over: quarter, per: 'h', wrapsAt: null } },
    ],
    unit: per('h'),
  },
  {
    name: 'Counted today, of a counter',
    formula: 'count',
    wants: [{ name: 'count', asks: 'Counter', take: { by: 'counterIncrease', over: 'day', wrapsAt: null } }],
    unit: same,
  },
  {
    name: 'A formula of my own',
    formula: 'a',
    wants: [{ name: 'a', asks: 'a' }],
    unit: same,
  },
]
