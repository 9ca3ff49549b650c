import type { ExplainedField } from '@jaunty-sparrow/contract'
import { fieldTree } from './fieldTree.ts'

const field = (pointer: string, raw = '1'): ExplainedField => ({
  record: 0,
  address: 'bench',
  pointer,
  raw,
  signal: null,
  reading: null,
  problem: null,
})

it('puts fields back into the tree they stood in', () => {
  const [probes, lid] = fieldTree([field('/probes/top'), field('/probes/bottom'), field('/lid')])
  expect(probes?.children.map(({ name, pointer }) => [name, pointer])).toEqual([
    ['top', '/probes/top'],
    ['bottom', '/probes/bottom'],
  ])
  expect(lid).toMatchObject({ name: 'lid', children: [], field: { raw: '1' } })
})

it('reads escaped names, and takes a field that is a branch as well', () => {
  const [root] = fieldTree([field('/a~1b'), field('/a~1b/sum')])
  expect(root).toMatchObject({ name: 'a/b', field: {}, children: [{ name: 'sum' }] })
})
