import { type Static, Type } from '@sinclair/typebox'
import { DatedEvent } from './event.ts'
import { Instant } from './instant.ts'
import { defineRoute } from './route.ts'

/** A day of a site, as the strip along the top of every page shows it. */
export const SiteDay = Type.Object({
  from: Instant,
  to: Instant,
  slot: Type.Integer({ description: 'How long each count is for, ms.' }),
  came: Type.Array(Type.Integer(), {
    description:
      'How many readings came in, slot by slot, by the time they arrived at; before any arrival of the site was counted, how many are stored that were measured then.',
  }),
  dropOuts: Type.Array(DatedEvent, { description: 'Who was not heard, and when.' }),
  nights: Type.Array(Type.Tuple([Instant, Instant]), {
    description: 'From when to when the sun was down; none where nobody said where the site lies.',
  }),
})
export type SiteDay = Static<typeof SiteDay>

export const getSiteDay = defineRoute({
  method: 'get',
  path: '/api/sites/{siteId}/day',
  summary: 'The 24 hours of a site up to an instant: what came in, who dropped out, and when it was night',
  role: 'viewer',
  at: 'site',
  params: Type.Object({ siteId: Type.Integer() }),
  query: Type.Object({ to: Instant }),
  response: SiteDay,
  status: 200,
})
