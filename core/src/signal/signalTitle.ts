/** What a signal is called on its device: one of like parts with the part it is of. */
export const signalTitle = ({
  name,
  partName,
}: {
  readonly name: string
  readonly partName: string
}): string => (partName === '' ? name : `${name} ${partName}`)
