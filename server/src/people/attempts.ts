import { type Bucket, draw, type Refill } from '@jaunty-sparrow/core/device'
import { LRUCache } from 'lru-cache'

/** How often signing in may fail: by one account from one address, from one address whoever it tries, and by one account. */
const allowances = {
  pair: { perMinute: 0.5, capacity: 10 },
  address: { perMinute: 4, capacity: 60 },
  account: { perMinute: 20, capacity: 200 },
} as const satisfies Record<string, Refill>

/** So many accounts and addresses are remembered; whoever tries more of them is held back by his address. */
const mostRemembered = 10_000

/** Who tries to sign in, and from where. */
export interface Attempt {
  readonly account: string
  readonly address: string
}

/**
 * Holds back who guesses passwords: each failure draws from what is allowed, and where nothing is left one has to wait. Strangers
 * cannot lock a person out by failing in their name: where that person has signed in before, only their own failures count.
 */
export class Attempts {
  readonly #now: () => number
  readonly #buckets = new LRUCache<string, Bucket>({ max: mostRemembered })
  readonly #welcome = new LRUCache<string, true>({ max: mostRemembered })

  /** @param now epoch ms */
  constructor(now: () => number) {
    this.#now = now
  }

  /** How long to wait before trying, whole seconds; 0 for not at all. */
  wait(attempt: Attempt): number {
    const longest = Math.max(0, ...this.#drawn(attempt).map(({ wait }) => wait))
    return Math.ceil(longest / 1000)
  }

  failed(attempt: Attempt): void {
    for (const { key, bucket } of this.#drawn(attempt)) this.#buckets.set(key, bucket)
  }

  succeeded(attempt: Attempt): void {
    const pair = pairOf(attempt)
    this.#buckets.delete(pair)
    this.#welcome.set(pair, true)
  }

  #drawn(attempt: Attempt): { key: string; bucket: Bucket; wait: number }[] {
    const pair = pairOf(attempt)
    const keys: [key: string, allowance: Refill][] = [[pair, allowances.pair]]
    if (!this.#welcome.has(pair))
      keys.push(
        [`from ${attempt.address}`, allowances.address],
        [`as ${attempt.account}`, allowances.account],
      )
    return keys.map(([key, allowance]) => ({
      key,
      ...draw(this.#buckets.get(key), 1, allowance, this.#now()),
    }))
  }
}

const pairOf = ({ account, address }: Attempt): string => `${account} from ${address}`
