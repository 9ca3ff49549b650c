import type { Device } from '@jaunty-sparrow/contract'
import { changedDevices, replaceDevice } from './deviceList.ts'

const device = (address: string, kit = 1) =>
  ({ address, name: address.toUpperCase(), kit: { id: kit } }) as Device
const devices = () => [device('a'), device('c', 2), device('d', 2)]

it('finds the devices that a change reaches', () => {
  expect(
    changedDevices(
      [
        { what: 'device', address: 'new' },
        { what: 'kit', kitId: 2 },
      ],
      devices(),
    ),
  ).toEqual(['new', 'c', 'd'])
  expect(changedDevices([{ what: 'sites' }], devices())).toEqual([])
  expect(changedDevices([{ what: 'devices' }], devices())).toBe('all')
  const many = Array.from({ length: 11 }, (_, n) => device(`n${n}`, 3))
  expect(changedDevices([{ what: 'kit', kitId: 3 }], many)).toBe('all')
})

it('puts a device where its name belongs, takes out what is gone, and leaves what nobody knows of', () => {
  const list = devices()
  const addresses = () => list.map(({ address }) => address)
  replaceDevice(list, 'b', device('b'))
  expect(addresses()).toEqual(['a', 'b', 'c', 'd'])
  replaceDevice(list, 'c', null)
  replaceDevice(list, 'd', undefined)
  expect(addresses()).toEqual(['a', 'b', 'd'])
})
