import { cave1, cave2 } from './creamery/caveNode.ts'
import { creamery } from './creamery/index.ts'
import { day, hour, minute, tellStory } from './creamery/story.ts'
import { pastMessages } from './history.ts'

const origin = Date.UTC(2026, 9, 20, 15, 30)
const story = tellStory(origin)
const past = (device: (typeof creamery.devices)[number], from: number, to: number) => [
  ...pastMessages(device, story, from, to),
]
const humidity = (device: typeof cave1, at: number) => Number(device.message(at, story).humidity)

describe('the past of the creamery', () => {
  it.each(creamery.devices)('of $name is the same everywhere', (device) => {
    expect(past(device, origin - 2 * hour, origin)).toEqual(past(device, origin - 2 * hour, origin))
  })

  it.each(creamery.devices)('of $name keeps to what its kit says the sensors can', (device) => {
    for (const message of past(device, origin - 4 * day, origin).filter((_, n) => n % 20 === 0)) {
      for (const { field, rangeLow, rangeHigh } of device.kit.signals) {
        const value = field
          .split('/')
          .slice(1)
          .reduce<unknown>((node, key) => (node as Record<string, unknown>)[key], message)
        if (typeof value === 'boolean') continue
        expect(value).toBeGreaterThanOrEqual(rangeLow ?? 0)
        expect(value).toBeLessThanOrEqual(rangeHigh ?? 0)
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

  it('is silent in the caves while there is no power', () => {
    const { from, to } = story.powerCut
    expect(past(cave2, from - hour, to + hour).filter(({ t }) => t >= from && t < to)).toEqual([])
  })

  it('shows the night the door was left open, and the drift of one probe', () => {
    const night = (story.openDoor.from + story.openDoor.to) / 2
    expect(humidity(cave1, night)).toBeLessThan(humidity(cave1, night - 2 * day) - 8)
    expect(humidity(cave2, origin)).toBeGreaterThan(humidity(cave2, origin - 13 * day) + 1)
  })
})
