import { acrossAt, heightOf, type VesselShape, vesselShapes } from './shapes.ts'

/** What lies below a height, as a share of the whole: the widths of thin slices added up. */
function filledTo(shape: VesselShape, height: number): number {
  const slices = 20_000
  const of = (slice: number) => {
    const [left, right] = acrossAt(shape, (slice + 0.5) / slices, 1)
    // A lying cylinder is as long everywhere, a cone is as deep as it is wide.
    return shape === 'conical' ? (right - left) ** 2 : right - left
  }
  let [below, all] = [0, 0]
  for (let slice = 0; slice < slices; slice++) {
    all += of(slice)
    if ((slice + 0.5) / slices < height) below += of(slice)
  }
  return below / all
}

it.each(
  vesselShapes.flatMap((shape) => [0.05, 0.3, 0.5, 0.8, 0.97].map((height) => [shape, height] as const)),
)('%s: what fills it to %d stands so high', (shape, height) => {
  expect(heightOf(shape, filledTo(shape, height))).toBeCloseTo(height, 3)
})

it('is empty and full at its ends, and neither runs over nor below', () => {
  for (const shape of vesselShapes) {
    expect(heightOf(shape, 0)).toBeCloseTo(0, 6)
    expect(heightOf(shape, -1)).toBeCloseTo(0, 6)
    expect(heightOf(shape, 2)).toBeCloseTo(1, 6)
  }
})
