import { addressFromName, longestAddress } from '@jaunty-sparrow/core/device'

/** An address made from the name, with a number behind it when another device has it already. */
export function freeAddress(name: string, taken: ReadonlySet<string>): string {
  const base = addressFromName(name) || (name === '' ? '' : 'device')
  let address = base
  for (let number = 2; taken.has(address); number++)
    address = `${base.slice(0, longestAddress - 4)}-${number}`
  return address
}
