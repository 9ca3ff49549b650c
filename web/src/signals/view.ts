const hour = 3_600_000

/** Spans that are looked at up to now, by what the address bar calls them. */
export const spans = {
  hour: { length: hour, name: 'An hour' },
  day: { length: 24 * hour, name: 'A day' },
  week: { length: 7 * 24 * hour, name: 'A week' },
  month: { length: 30 * 24 * hour, name: 'A month' },
} as const
export type SpanName = keyof typeof spans

/** From when to when, epoch ms. */
export interface Stretch {
  readonly from: number
  readonly to: number
}

/** What charts show: a span up to now that moves on with it, or a stretch of the past that stands still. */
export type View = { readonly span: SpanName } | Stretch

/** Nobody looks closer, ms. */
export const shortest = 5000
const longest = 100 * 365 * 24 * hour

const isSpan = (name: string | null): name is SpanName => name !== null && Object.hasOwn(spans, name)

/** Reads a view out of the address bar; an hour up to now, where it says nothing that makes sense. */
export function viewOf(params: URLSearchParams): View {
  const [from, to] = [Number(params.get('from')), Number(params.get('to'))]
  if (params.has('from') && Number.isInteger(from) && Number.isInteger(to) && to - from >= shortest)
    return { from, to }
  const span = params.get('span')
  return { span: isSpan(span) ? span : 'hour' }
}

/** Writes a view for the address bar. */
export const paramsOf = (view: View): Record<string, string> =>
  'span' in view ? { span: view.span } : { from: String(view.from), to: String(view.to) }

/** What a view shows at an instant, epoch ms. */
export const stretchOf = (view: View, now: number): Stretch =>
  'span' in view ? { from: now - spans[view.span].length, to: now } : view

/**
 * Takes in more or less, around an instant that stays where it is.
 * @param factor above one takes in more
 */
export function zoomed({ from, to }: Stretch, factor: number, around: number, now: number): Stretch {
  const length = Math.min(longest, Math.max(shortest, (to - from) * factor))
  const share = (around - from) / (to - from)
  return upTo(now, { from: around - share * length, to: around + (1 - share) * length })
}

/** Goes back or on by a part of what is shown. */
export function moved({ from, to }: Stretch, share: number, now: number): Stretch {
  const by = (to - from) * share
  return upTo(now, { from: from + by, to: to + by })
}

/** Nothing is known of what comes, so no view goes beyond now. */
function upTo(now: number, { from, to }: Stretch): Stretch {
  const beyond = Math.max(0, to - now)
  return { from: Math.round(from - beyond), to: Math.round(to - beyond) }
}
