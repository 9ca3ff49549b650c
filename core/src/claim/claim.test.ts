import { type Claim, claimTopic, ownRecords } from './claim.ts'

const byTopic = (pattern: string, device: string | null, part = ''): Claim => ({
  by: 'topic',
  pattern,
  device,
  part,
})

describe('claimTopic', () => {
  it('takes the first claim that fits, and puts its fields where they belong', () => {
    const claims = [byTopic('barn/roof/#', 'barn', 'roof'), byTopic('{device}/#', null)]
    expect(claimTopic(claims, 'barn/roof/temp')).toEqual({ device: 'barn', tail: 'roof/temp' })
    expect(claimTopic(claims, 'cave-1/temp')).toEqual({ device: 'cave-1', tail: 'temp' })
    expect(claimTopic(claims.slice(0, 1), 'attic/temp')).toBeUndefined()
  })
})

describe('ownRecords', () => {
  const record = (id: unknown, temp: number) => ({
    fields: [
      { pointer: '/id', value: id as string },
      { pointer: '/temp', value: temp },
    ],
  })

  it('leaves a message as it is where nobody claims by field', () => {
    const records = [record('a', 1)]
    expect(ownRecords([byTopic('#', 'x')], records)).toEqual([{ device: undefined, record: records[0] }])
  })

  it('tells a gateway’s records apart by what their field says, and leaves the field out', () => {
    const claims: Claim[] = [
      { by: 'field', pointer: '/id', value: '17', device: 'cave-1' },
      { by: 'field', pointer: '/id', value: 'b', device: 'cave-2' },
    ]
    const owned = ownRecords(claims, [record(17, 1), record('b', 2), record('c', 3)])
    expect(owned).toEqual([
      { device: 'cave-1', record: { fields: [{ pointer: '/temp', value: 1 }] } },
      { device: 'cave-2', record: { fields: [{ pointer: '/temp', value: 2 }] } },
      { device: undefined, unclaimed: 'c', record: record('c', 3) },
    ])
    const own = { fields: [{ pointer: '/temp', value: 4 }] }
    expect(ownRecords(claims, [own])).toEqual([{ device: undefined, record: own }])
  })

  it('takes what the field says for an address where no device is named', () => {
    const claims: Claim[] = [{ by: 'field', pointer: '/id', value: null, device: null }]
    expect(ownRecords(claims, [record('cave-9', 1)])).toMatchObject([{ device: 'cave-9' }])
  })
})
