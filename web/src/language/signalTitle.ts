import type { Signal } from '@jaunty-sparrow/contract'

/** What a signal is called on its device: one of like parts with the part it is of. */
export const signalTitle = ({ name, partName }: Pick<Signal, 'name' | 'partName'>): string =>
  partName === '' ? name : `${name} ${partName}`
