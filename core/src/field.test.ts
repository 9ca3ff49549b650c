import { fieldLabel, pointerSegment, pointerSegments } from './field.ts'

describe('a field name', () => {
  // The keys of RFC 6901, section 5, whose pointers are of one segment.
  it.each([
    ['foo', '/foo'],
    ['', '/'],
    ['a/b', '/a~1b'],
    ['c%d', '/c%d'],
    ['m~n', '/m~0n'],
    ['~1', '/~01'],
  ])('%j is written %j and read back', (key, pointer) => {
    expect(pointerSegment(key)).toBe(pointer)
    expect(pointerSegments(pointer)).toEqual([key])
  })

  it('reads as a path in a sentence', () => {
    expect(fieldLabel('/probes/0/temp')).toBe('probes.0.temp')
  })
})
