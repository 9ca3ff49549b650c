/** What a vessel looks like; the shapes that level can be turned into volume for. */
export const vesselShapes = ['upright', 'lying', 'conical'] as const
export type VesselShape = (typeof vesselShapes)[number]

/** How wide it is inside at a height, both as a share of the whole. */
const widthAt: Readonly<Record<VesselShape, (height: number) => number>> = {
  upright: () => 1,
  lying: (height) => 2 * Math.sqrt(Math.max(0, height * (1 - height))),
  // It stands on its point.
  conical: (height) => height,
}

/** How much of it is filled at a height, both as a share of the whole: what its cross-sections below come to. */
const filledAt: Readonly<Record<VesselShape, (height: number) => number>> = {
  upright: (height) => height,
  lying: (height) =>
    (Math.acos(1 - 2 * height) - (1 - 2 * height) * 2 * Math.sqrt(height * (1 - height))) / Math.PI,
  // A cone is filled by the third power of its height.
  conical: (height) => height ** 3,
}

/** How high what is in it stands, of how much of it is filled; both as a share of the whole. */
export function heightOf(shape: VesselShape, filled: number): number {
  const wanted = Math.min(1, Math.max(0, filled))
  let [low, high] = [0, 1]
  // Each step halves what is left; after so many it is finer than a pixel.
  for (let step = 0; step < 30; step++) {
    const middle = (low + high) / 2
    if (filledAt[shape](middle) < wanted) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/** Its outline, from the left rim down and round to the right one. @param width,height px */
export function outlineOf(shape: VesselShape, width: number, height: number): string {
  if (shape === 'upright')
    return `M0 0V${height - 8}Q0 ${height} 8 ${height}H${width - 8}Q${width} ${height} ${width} ${height - 8}V0`
  if (shape === 'conical') return `M0 0L${width / 2 - 3} ${height}H${width / 2 + 3}L${width} 0`
  return `M${width / 2} 0A${width / 2} ${height / 2} 0 1 0 ${width / 2} ${height}A${width / 2} ${height / 2} 0 1 0 ${width / 2} 0Z`
}

/** Where lines across it begin and end at a height, px. */
export function acrossAt(shape: VesselShape, height: number, width: number): [left: number, right: number] {
  const inside = widthAt[shape](height) * width
  return [(width - inside) / 2, (width + inside) / 2]
}
