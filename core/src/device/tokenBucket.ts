/** What is left of an allowance, and since when. */
export interface Bucket {
  readonly tokens: number
  /** ms, by whichever clock the caller keeps to. */
  readonly at: number
}

/** An allowance that fills steadily, up to a capacity. */
export interface Refill {
  readonly perMinute: number
  readonly capacity: number
}

/** A draw that went well leaves less in the bucket; one that did not says how long to wait, ms. */
export type Draw = { readonly bucket: Bucket; readonly wait: number }

/**
 * Draws from a token bucket. What is larger than the bucket itself is let pass when the bucket is full: refusing it would
 * refuse it for ever.
 * @param bucket undefined for one that has never been drawn from, which is full
 */
export function draw(
  bucket: Bucket | undefined,
  amount: number,
  { perMinute, capacity }: Refill,
  now: number,
): Draw {
  const perMs = perMinute / 60_000
  const elapsed = bucket ? Math.max(0, now - bucket.at) : 0
  const tokens = bucket ? Math.min(capacity, bucket.tokens + elapsed * perMs) : capacity
  const wanted = Math.min(amount, capacity)
  if (tokens >= wanted) return { bucket: { tokens: tokens - wanted, at: now }, wait: 0 }
  return { bucket: { tokens, at: now }, wait: Math.ceil((wanted - tokens) / perMs) }
}
