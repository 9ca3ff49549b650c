/** What is tried: the buzzer of a board, or the walls of a site. */
export interface AlarmTest {
  readonly of: 'board' | 'walls'
  /** The device, or the site. */
  readonly id: number
}

/** How long a test lasts, ms: a board that asks once a minute hears of it. */
const testLasts = 75_000

/** Tests of what is near the alarm itself, as if one stood there; they are over by themselves, and nothing is kept of them. */
export class AlarmTests {
  readonly #now: () => number
  readonly #until = new Map<string, AlarmTest & { readonly until: number }>()

  /** @param now epoch ms */
  constructor(now: () => number) {
    this.#now = now
  }

  /** Begins one, or again where it is on. */
  begin({ of, id }: AlarmTest): { readonly until: number } {
    const until = this.#now() + testLasts
    this.#until.set(`${of} ${id}`, { of, id, until })
    return { until }
  }

  /** Whose test is on. */
  on(of: AlarmTest['of']): number[] {
    const now = this.#now()
    return Array.from(this.#until.values()).flatMap((test) =>
      test.of === of && test.until > now ? [test.id] : [],
    )
  }

  /** Forgets what is over, and says whether anything was. */
  forgetOver(): boolean {
    const now = this.#now()
    const over = Array.from(this.#until).filter(([, { until }]) => until <= now)
    for (const [key] of over) this.#until.delete(key)
    return over.length > 0
  }
}
