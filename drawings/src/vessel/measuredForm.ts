import type { VesselForm } from './shapes.ts'

type Measured = readonly [height: number, volume: number]

/** Reads a table of heights and volumes, a pair to a line; nothing until it rises in both from its first line to its last. */
export function measuredOf(text: string): Measured[] | undefined {
  const points = text
    .split('\n')
    .map((line) => line.split(/[\s;,]+/).filter((word) => word !== ''))
    .filter((numbers) => numbers.length > 0)
    .map(([height = '', volume = '']): Measured => [Number(height), Number(volume)])
  const rises = points.every(
    ([height, volume], place) =>
      place === 0 || (height > (points[place - 1]?.[0] ?? NaN) && volume > (points[place - 1]?.[1] ?? NaN)),
  )
  return points.length >= 2 && rises ? points : undefined
}

/** A vessel that was measured, as of one depth: it is as wide at a height as a step there holds. */
export function measuredForm(points: readonly Measured[]): VesselForm {
  const [bottom, top] = [points[0] ?? [0, 0], points.at(-1) ?? [1, 1]]
  const tall = top[0] - bottom[0]
  const whole = top[1] - bottom[1]
  const steps = points.slice(1).map(([height, volume], place) => {
    const [from, below] = points[place] ?? bottom
    return {
      from: (from - bottom[0]) / tall,
      to: (height - bottom[0]) / tall,
      below: (below - bottom[1]) / whole,
      upTo: (volume - bottom[1]) / whole,
      holds: (volume - below) / (height - from),
    }
  })
  const most = Math.max(...steps.map(({ holds }) => holds))
  const stepAt = (height: number) => steps.find(({ to }) => height <= to) ?? steps.at(-1)
  return {
    widthAt: (height) => (stepAt(height)?.holds ?? 0) / most,
    filledAt: (height) => {
      const step = stepAt(height)
      if (!step) return height
      const { from, to, below, upTo } = step
      return below + ((height - from) / (to - from)) * (upTo - below)
    },
    outline: (width, height) => {
      const side = (sign: 1 | -1) =>
        steps.map(({ from, to, holds }) => {
          const x = ((width / 2) * (1 + (sign * holds) / most)).toFixed(1)
          return [`${x} ${((1 - from) * height).toFixed(1)}`, `${x} ${((1 - to) * height).toFixed(1)}`]
        })
      return `M${[...side(-1).flat().reverse(), ...side(1).flat()].join('L')}`
    },
  }
}
