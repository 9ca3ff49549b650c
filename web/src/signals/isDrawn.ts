import type { Signal } from '@jaunty-sparrow/contract'

/** What can be drawn over time: texts and places have other pictures. */
export const isDrawn = ({ kind }: Signal): boolean =>
  kind === 'number' || kind === 'switch' || kind === 'choice'
