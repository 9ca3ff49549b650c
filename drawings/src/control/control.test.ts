import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import type { Instrument, ShownSignal } from '../instrument/index.ts'
import { sampleOf } from '../samples/index.ts'
import { control } from './instrument.tsx'

const drawn = (more: Partial<ShownSignal>) => {
  const shown = sampleOf(control as Instrument, 'at rest', 300)
  const [signal] = shown.signals
  return renderToStaticMarkup(
    createElement(control.Drawing, { ...shown, signals: signal ? [{ ...signal, ...more }] : [] }),
  )
}
const dimmer = { kind: 'number', unit: '%', shown: { low: 0, high: 100 }, limits: null } as const
const latest = { at: 0, value: 20, quality: 0 }
const xOf = (markup: string, mark: RegExp) => Number(mark.exec(markup)?.[1])

it('keeps apart what is and what is asked for, until nothing is asked any more', () => {
  const asking = drawn({ ...dimmer, latest, asked: { value: 60, state: 'sent' } })
  // From 16 px on both sides, 268 px are a hundred.
  expect(xOf(asking, /data-beak="now" transform="translate\(([\d.]+)/)).toBeCloseTo(16 + 268 * 0.2)
  expect(xOf(asking, /data-asked-at="60" transform="translate\(([\d.]+)/)).toBeCloseTo(16 + 268 * 0.6)
  expect(asking).toContain('asked for 60.0 %, sent')
  const done = drawn({ ...dimmer, latest: { ...latest, value: 60 }, asked: null })
  expect(done).not.toContain('asked')
})

it('never says of a switch that it is what it was only asked for', () => {
  const off = { kind: 'switch', unit: null, limits: null, latest: { ...latest, value: 0 } } as const
  const asking = drawn({ ...off, asked: { value: 1, state: 'requested' } })
  expect(/<tspan[^>]*data-value[^>]*>([^<]*)</.exec(asking)?.[1]).toBe('off')
  expect(asking).toContain('asked for on, waits to be sent')
})
