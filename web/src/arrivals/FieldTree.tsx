import type { ExplainedField } from '@jaunty-sparrow/contract'
import { type FieldNode, fieldTree } from './fieldTree.ts'

interface FieldTreeProps {
  readonly fields: readonly ExplainedField[]
  /** The field that is chosen, and what to do when another one is clicked; absent where nothing can be chosen. */
  readonly picked?: string
  readonly onPick?: ((pointer: string) => void) | undefined
}

/** A message as the tree its fields stand in. Of a backlog the first record is shown: the others are alike. */
export function FieldTree({ fields, picked, onPick }: FieldTreeProps) {
  const first = fields[0]?.record
  return (
    <Branch
      nodes={fieldTree(fields.filter(({ record }) => record === first))}
      picked={picked}
      onPick={onPick}
    />
  )
}

interface BranchProps extends Pick<FieldTreeProps, 'onPick'> {
  readonly nodes: readonly FieldNode[]
  readonly picked: string | undefined
}

const Branch = ({ nodes, picked, onPick }: BranchProps) => (
  <ul className="grid gap-0.5 font-mono text-[0.8125rem] not-first:ml-2 not-first:border-l not-first:border-rule not-first:pl-3">
    {nodes.map((node) => (
      <li key={node.pointer} className="grid gap-0.5">
        {node.field && onPick ? (
          <button
            type="button"
            aria-pressed={picked === node.pointer}
            onClick={() => onPick(node.pointer)}
            className={`justify-self-start rounded px-1.5 py-1 text-left hover:bg-well ${picked === node.pointer ? 'bg-well font-semibold outline outline-chestnut' : ''}`}
          >
            <Leaf node={node} />
          </button>
        ) : (
          <span className="px-1.5">
            <Leaf node={node} />
          </span>
        )}
        {node.children.length > 0 && <Branch nodes={node.children} picked={picked} onPick={onPick} />}
      </li>
    ))}
  </ul>
)

const Leaf = ({ node: { name, field } }: { node: FieldNode }) => (
  <>
    {name}
    {field && (
      <>
        <span className="text-ink-soft">: </span>
        {field.raw}
        {field.signal?.state === 'accepted' && (
          <span className="font-sans text-ink-soft"> · {field.signal.name}</span>
        )}
      </>
    )}
  </>
)
