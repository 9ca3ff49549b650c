import type { StandingAlarm } from '@jaunty-sparrow/contract'
import { alarmGroups } from './alarmGroups.ts'
import { momentLink } from './momentLink.ts'

const alarm = (id: string, causedBy: string | null = null) => ({ id, causedBy }) as StandingAlarm

it('puts what another one explains with that, in the order in which they are told', () => {
  const groups = alarmGroups([alarm('a'), alarm('b', 'c'), alarm('c'), alarm('d', 'c')])
  expect(groups.map(({ alarm: { id }, explains }) => [id, explains.map((each) => each.id)])).toEqual([
    ['a', []],
    ['c', ['b', 'd']],
  ])
})

it('leaves out nobody whose cause is not told of', () => {
  expect(alarmGroups([alarm('a', 'gone')]).map((group) => group.alarm.id)).toEqual(['a'])
})

it('leads to the half hour before and after it was raised', () => {
  const device = { address: 'vat' }
  expect(momentLink({ raisedAt: 7_200_000 }, device)).toBe('/devices/vat?from=5400000&to=9000000')
  expect(momentLink({ raisedAt: null }, device)).toBeUndefined()
  expect(momentLink({ raisedAt: 7_200_000 }, undefined)).toBeUndefined()
})
