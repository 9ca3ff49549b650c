import type { ExplainedField } from '@jaunty-sparrow/contract'
import { pointerSegments } from '@jaunty-sparrow/core/message'

/** A branch of a message, or a leaf with the field that is there. */
export interface FieldNode {
  readonly name: string
  /** The JSON Pointer up to here. */
  readonly pointer: string
  readonly children: FieldNode[]
  field?: ExplainedField
}

/** Sorts the fields of one record back into the tree they stand in, whatever format it came in. */
export function fieldTree(fields: readonly ExplainedField[]): FieldNode[] {
  const roots: FieldNode[] = []
  for (const field of fields) {
    let level = roots
    let node: FieldNode | undefined
    let pointer = ''
    for (const segment of field.pointer.split('/').slice(1)) {
      pointer += `/${segment}`
      node = level.find((candidate) => candidate.pointer === pointer)
      if (!node) {
        node = { name: pointerSegments(`/${segment}`)[0] ?? '', pointer, children: [] }
        level.push(node)
      }
      level = node.children
    }
    if (node) node.field = field
  }
  return roots
}
