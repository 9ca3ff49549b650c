import fc from 'fast-check'
import { matchTopic, suggestedPattern, topicPatternProblem } from './topicPattern.ts'

describe('matchTopic', () => {
  it.each([
    ['garden/bed-2/#', 'garden/bed-2/soil/top', { tail: 'soil/top' }],
    ['garden/bed-2/#', 'garden/bed-2', { tail: '' }],
    ['garden/bed-2/#', 'garden/bed-20/soil', undefined],
    ['+/{device}/state', 'attic/cave-1/state', { device: 'cave-1', tail: '' }],
    ['{device}/{field}/+', 'cave-1/temp/raw', { device: 'cave-1', tail: 'temp' }],
    ['{field}/x/{field}', 'a/x/b', { tail: 'a/b' }],
    ['a/b', 'a/b/c', undefined],
    ['a/b/c', 'a/b', undefined],
    ['#', '$SYS/uptime', undefined],
    ['#', 'anything', { tail: 'anything' }],
  ])('%s in %s', (pattern, topic, match) => {
    expect(matchTopic(pattern, topic)).toEqual(match)
  })

  it('finds every topic in the pattern that is suggested for it', () => {
    fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[a-z0-9-]{1,8}$/), { minLength: 1 }), (levels) => {
        const topic = levels.join('/')
        for (const sample of ['21.5', '{"temp": 21.5}', '']) {
          const pattern = suggestedPattern({ topic, sample }, [])
          expect(topicPatternProblem(pattern)).toBeUndefined()
          expect(matchTopic(pattern, topic)).toBeDefined()
        }
      }),
    )
  })
})

describe('suggestedPattern', () => {
  const soil = { topic: 'garden/bed-2/soil', sample: '{"top": 31}' }
  const air = { topic: 'garden/bed-2/air', sample: '18.5' }
  const shed = { topic: 'garden/shed', sample: '[{"n": "door", "vb": true}]' }

  it.each([
    ['the branch of a bare value', air, [], 'garden/bed-2/#'],
    ['what has fields of its own, by itself', soil, [], 'garden/bed-2/soil/#'],
    ['… unless a bare value stands beside it', soil, [shed, air], 'garden/bed-2/#'],
    ['… which it must do in the same branch', shed, [soil, air], 'garden/shed/#'],
    ['what is not text, by itself', { topic: 'garden/cam', sample: '' }, [], 'garden/cam/#'],
    ['a topic of one level, by itself', { topic: 'garden', sample: '3' }, [], 'garden/#'],
  ])('takes in %s', (_, heard, others, pattern) => {
    expect(suggestedPattern(heard, others)).toBe(pattern)
  })
})

describe('topicPatternProblem', () => {
  it.each([
    ['', /empty/],
    ['a/#/b', /last/],
    ['a/b+', /whole levels/],
    ['{device}/{device}', /at most once/],
    ['a/{sensor}', /neither/],
  ])('finds fault with %p', (pattern, problem) => {
    expect(topicPatternProblem(pattern)).toMatch(problem)
  })
})
