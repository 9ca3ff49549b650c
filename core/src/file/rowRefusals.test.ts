import { rowRefusals } from './rowRefusals.ts'

describe('refusals of a piece of a file', () => {
  it('name the line of their record, and the field as people write it', () => {
    const refused = [{ field: '/1/probes/top.left', reason: 'it was sent as null' }]
    expect(rowRefusals(refused, [4, 9])).toEqual([
      { line: 9, reason: String.raw`probes.top\.left: it was sent as null` },
    ])
  })

  it('of one record name no record', () => {
    expect(rowRefusals([{ field: '/ph', reason: 'no' }], [7])).toEqual([{ line: 7, reason: 'ph: no' }])
  })
})
