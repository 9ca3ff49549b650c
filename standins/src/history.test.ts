import { compileFormula } from '@jaunty-sparrow/core/formula'
import { cave1, cave2 } from './creamery/caveNode.ts'
import { creamery } from './creamery/index.ts'
import { milkVat } from './creamery/milkVat.ts'
import type { StandIn } from './creamery/standIn.ts'
import { day, hour, minute, tellStory } from './creamery/story.ts'
import { weatherMast } from './creamery/weatherMast.ts'
import { pastMessages } from './history.ts'

const origin = Date.UTC(2026, 9, 20, 15, 30)
const story = tellStory(origin)
const past = (device: (typeof creamery.devices)[number], from: number, to: number) => [
  ...pastMessages(device, story, from, to),
]
const humidity = (device: typeof cave1, at: number) => Number(device.message(at, story).humidity)

/** What a message holds at a field; of like parts, at the field of each. */
function valuesAt(message: object, field: string): unknown[] {
  let nodes: unknown[] = [message]
  for (const key of field.split('/').slice(1))
    nodes = nodes.flatMap((node) =>
      key === '{part}' ? Object.values(node as object) : [(node as Record<string, unknown>)[key]],
    )
  expect(nodes.length).toBeGreaterThan(0)
  return nodes
}

/** What a conversion makes of what is sent. */
function convertedBy(conversion: string, x: number): number {
  const formula = compileFormula(conversion)
  if ('problem' in formula) throw new Error(formula.problem)
  const outcome = formula.evaluate({ x, field: () => undefined, constant: () => undefined })
  if ('problem' in outcome) throw new Error(outcome.problem)
  return outcome.value
}

describe('the past of the creamery', () => {
  it.each(creamery.devices)('of $name is the same everywhere', (device) => {
    expect(past(device, origin - 2 * hour, origin)).toEqual(past(device, origin - 2 * hour, origin))
  })

  it.each(creamery.devices)('of $name keeps to what its kit says the sensors can', (device) => {
    for (const message of past(device, origin - 4 * day, origin).filter((_, n) => n % 20 === 0)) {
      for (const { field, kind, origin: from, conversion, range } of device.kit.signals) {
        if (kind !== 'number' || from === 'derived') continue
        for (const value of valuesAt(message, field)) {
          const converted = convertedBy(conversion ?? 'x', Number(value))
          expect(converted).toBeGreaterThanOrEqual(range?.low ?? 0)
          expect(converted).toBeLessThanOrEqual(range?.high ?? 0)
        }
      }
    }
  })

  it('is told in order, and up close in its last hour', () => {
    const times = past(cave1, origin - 3 * hour, origin).map(({ t }) => t)
    expect(times).toEqual([...new Set(times)].sort((a, b) => a - b))
    expect(times.filter((t) => t >= origin - hour)).toHaveLength(120)
    expect(times.filter((t) => t < origin - hour)).toHaveLength(119)
  })

  it('goes on without a gap where it was left a minute ago', () => {
    expect(past(cave1, origin - minute, origin).map(({ t }) => t)).toEqual([origin - minute / 2])
  })

  it('is silent while there is no power, but for what has a battery', () => {
    const { from, to } = story.powerCut
    const meanwhile = (device: StandIn) =>
      past(device, from - hour, to + hour).filter(({ t }) => t >= from && t < to)
    expect(meanwhile(cave2)).toEqual([])
    expect(meanwhile(milkVat)).toEqual([])
    expect(meanwhile(weatherMast).length).toBeGreaterThan(10)
  })

  it('shows the night the door was left open, and the drift of one probe', () => {
    const night = (story.openDoor.from + story.openDoor.to) / 2
    expect(humidity(cave1, night)).toBeLessThan(humidity(cave1, night - 2 * day) - 8)
    expect(humidity(cave2, origin)).toBeGreaterThan(humidity(cave2, origin - 13 * day) + 1)
  })
})
