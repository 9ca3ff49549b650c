import { measuredForm, measuredOf } from './measuredForm.ts'
import { acrossAt, heightOf, type VesselForm, vesselForms } from './shapes.ts'

const table = measuredOf('0 0\n20; 100\n60, 150\n\n100 350')
const forms: Readonly<Record<string, VesselForm>> = { ...vesselForms, measured: measuredForm(table ?? []) }

const formOf = (shape: string) => forms[shape] ?? vesselForms.upright

/** What lies below a height, as a share of the whole: the widths of thin slices added up. */
function filledTo(shape: string, height: number): number {
  const slices = 20_000
  const of = (slice: number) => {
    const [left, right] = acrossAt(formOf(shape), (slice + 0.5) / slices, 1)
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
  Object.keys(forms).flatMap((shape) =>
    [0.05, 0.3, 0.5, 0.8, 0.97].map((height) => [shape, height] as const),
  ),
)('%s: what fills it to %d stands so high', (shape, height) => {
  expect(heightOf(formOf(shape), filledTo(shape, height))).toBeCloseTo(height, 3)
})

it('is empty and full at its ends, and neither runs over nor below', () => {
  for (const shape of Object.keys(forms)) {
    expect(heightOf(formOf(shape), 0)).toBeCloseTo(0, 6)
    expect(heightOf(formOf(shape), -1)).toBeCloseTo(0, 6)
    expect(heightOf(formOf(shape), 2)).toBeCloseTo(1, 6)
  }
})

it('stands as high as the table says that was measured', () => {
  expect(table).toEqual([
    [0, 0],
    [20, 100],
    [60, 150],
    [100, 350],
  ])
  for (const [volume, height] of [
    [100, 20],
    [125, 40],
    [150, 60],
    [250, 80],
  ] as const)
    expect(heightOf(formOf('measured'), volume / 350)).toBeCloseTo(height / 100, 6)
})

it.each(['', '0 0', '0 0\n10', '0 0\n10 5\n5 8', '0 5\n10 5', 'a b\nc d'])(
  'takes no table out of %j',
  (text) => {
    expect(measuredOf(text)).toBeUndefined()
  },
)
