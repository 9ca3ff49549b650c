/** A vessel as it is drawn: everything as a share of the whole, from its bottom up. */
export interface VesselForm {
  /** How wide it is inside at a height. */
  readonly widthAt: (height: number) => number
  /** How much of it is filled up to a height: what its cross-sections below come to. */
  readonly filledAt: (height: number) => number
  /** From the left rim down and round to the right one, px. */
  readonly outline: (width: number, height: number) => string
}

/** Shapes that level can be turned into volume for. */
export const vesselForms = {
  upright: {
    widthAt: () => 1,
    filledAt: (height) => height,
    outline: (width, height) =>
      `M0 0V${height - 8}Q0 ${height} 8 ${height}H${width - 8}Q${width} ${height} ${width} ${height - 8}V0`,
  },
  lying: {
    widthAt: (height) => 2 * Math.sqrt(Math.max(0, height * (1 - height))),
    filledAt: (height) =>
      (Math.acos(1 - 2 * height) - (1 - 2 * height) * 2 * Math.sqrt(height * (1 - height))) / Math.PI,
    outline: (width, height) =>
      `M${width / 2} 0A${width / 2} ${height / 2} 0 1 0 ${width / 2} ${height}A${width / 2} ${height / 2} 0 1 0 ${width / 2} 0Z`,
  },
  conical: {
    // It stands on its point, and is filled by the third power of its height.
    widthAt: (height) => height,
    filledAt: (height) => height ** 3,
    outline: (width, height) => `M0 0L${width / 2 - 3} ${height}H${width / 2 + 3}L${width} 0`,
  },
} as const satisfies Readonly<Record<string, VesselForm>>

/** How high what is in it stands, of how much of it is filled; both as a share of the whole. */
export function heightOf({ filledAt }: VesselForm, filled: number): number {
  const wanted = Math.min(1, Math.max(0, filled))
  let [low, high] = [0, 1]
  // Each step halves what is left; after so many it is finer than a pixel.
  for (let step = 0; step < 30; step++) {
    const middle = (low + high) / 2
    if (filledAt(middle) < wanted) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/** Where lines across it begin and end at a height, px. */
export function acrossAt(form: VesselForm, height: number, width: number): [left: number, right: number] {
  const inside = form.widthAt(height) * width
  return [(width - inside) / 2, (width + inside) / 2]
}
