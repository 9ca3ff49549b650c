interface Point {
  readonly at: number
  readonly value: number
}

/**
 * How far a value has moved within a span: the greatest difference between what is said and anything that was said within the
 * span before it. What can still be the lowest or the highest is kept, each in order, so that a reading costs the same however
 * many there are.
 */
export class RecentSwing {
  readonly #over: number
  readonly #lows: Point[] = []
  readonly #highs: Point[] = []

  /** @param over s */
  constructor(over: number) {
    this.#over = over * 1000
  }

  /** Takes what is said next. @param at epoch ms @returns how far it has moved */
  add(at: number, value: number): number {
    keep(this.#lows, { at, value }, at - this.#over, (there) => there >= value)
    keep(this.#highs, { at, value }, at - this.#over, (there) => there <= value)
    return Math.max(value - (this.#lows[0]?.value ?? value), (this.#highs[0]?.value ?? value) - value)
  }
}

function keep(points: Point[], point: Point, since: number, isOutdone: (value: number) => boolean): void {
  for (let last = points.at(-1); last && isOutdone(last.value); last = points.at(-1)) points.pop()
  points.push(point)
  let gone = 0
  for (const { at } of points) {
    if (at >= since) break
    gone++
  }
  points.splice(0, gone)
}
