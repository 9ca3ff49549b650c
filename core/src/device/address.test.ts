import { addressFromName, addressPattern } from './address.ts'

describe('addressFromName', () => {
  it.each([
    ['Brine tank', 'brine-tank'],
    ['Cave 1, soft rinds', 'cave-1-soft-rinds'],
    ['Käse & Rahm', 'kase-rahm'],
    ['pH meter, CO₂', 'ph-meter-co'],
    ['  --  ', ''],
    ['a'.repeat(60), 'a'.repeat(40)],
  ])('makes of %j the address %j', (name, address) => {
    expect(addressFromName(name)).toBe(address)
    if (address) expect(address).toMatch(new RegExp(addressPattern))
  })
})
