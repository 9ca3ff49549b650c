import fc from 'fast-check'
import { fieldCalled, fieldLabel, fieldProblem, pointerSegment, pointerSegments, tailOf } from './field.ts'

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

  it('survives from its label and back, whatever it holds', () => {
    fc.assert(
      fc.property(
        fc.array(fc.stringMatching(/^[a-z./~\\]{1,6}$/), { minLength: 1, maxLength: 4 }),
        (segments) => {
          const pointer = segments.map(pointerSegment).join('')
          expect(fieldCalled(fieldLabel(pointer))).toBe(pointer)
        },
      ),
    )
  })

  it('is bounded, well-formed and not empty', () => {
    expect(fieldProblem(`/${'x'.repeat(199)}`)).toBeUndefined()
    expect(fieldProblem(`/${'x'.repeat(200)}`)).toMatch(/longer than 200/)
    expect(fieldProblem('/grün/💧')).toBeUndefined()
    for (const bad of ['/a\u0000', '/a\u007f', '/\ud83d', '/a\u0085'])
      expect(fieldProblem(bad)).toMatch(/control/)
    for (const empty of ['/', '/a/', '//a']) expect(fieldProblem(empty)).toMatch(/no name/)
  })
})

it('says where a message was sent to, with nothing for empty segments', () => {
  expect(tailOf(['x', ''])).toBe('x')
  expect(tailOf(['', 'x'])).toBe('x')
  expect(tailOf(['probes', 'a/b', 'm~n'])).toBe('probes/a~1b/m~0n')
})
