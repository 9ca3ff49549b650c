import type { Tone } from './standing.ts'

/** What something is drawn in, by how much it asks to be looked at. */
export const inks: Readonly<Record<Tone, string>> = {
  rest: 'var(--ink)',
  faint: 'var(--ink-soft)',
  late: 'var(--late)',
  trouble: 'var(--trouble)',
}
