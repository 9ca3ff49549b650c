import { useDraggable, useDroppable } from '@dnd-kit/core'
import { GripVertical } from 'lucide-react'
import type { KeyboardEvent, ReactNode } from 'react'

/** What the keys do to an instrument that has the focus. */
export type KeyMove =
  | 'earlier'
  | 'later'
  | 'chapter-before'
  | 'chapter-after'
  | 'larger'
  | 'smaller'
  | 'duplicate'
  | 'remove'

const keys: Readonly<Record<string, KeyMove>> = {
  ArrowLeft: 'earlier',
  ArrowRight: 'later',
  ArrowUp: 'chapter-before',
  ArrowDown: 'chapter-after',
  '+': 'larger',
  '-': 'smaller',
  d: 'duplicate',
  Delete: 'remove',
}

interface MovableProps {
  readonly id: string
  readonly title: string
  readonly onKey: (move: KeyMove) => void
  readonly children: ReactNode
}

/** An instrument that can be dragged to another place, or moved from the keyboard. */
export function Movable({ id, title, onKey, children }: MovableProps) {
  const { setNodeRef: dropRef, isOver, active } = useDroppable({ id })
  const { setNodeRef: dragRef, listeners, isDragging } = useDraggable({ id })
  const press = (event: KeyboardEvent) => {
    const move = keys[event.key]
    if (!move || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    onKey(move)
  }
  return (
    <div
      ref={dropRef}
      className={`relative rounded-sm outline-1 outline-rule outline-dashed ${isDragging ? 'opacity-40' : ''} ${isOver && active?.id !== id ? 'before:absolute before:inset-y-0 before:-left-3 before:w-0.5 before:bg-chestnut' : ''}`}
    >
      {children}
      <button
        ref={dragRef}
        type="button"
        data-movable={id}
        aria-label={`Move ${title}`}
        aria-describedby="how-to-move"
        className="absolute top-2 left-0 -translate-x-full cursor-grab touch-none rounded p-1 text-chestnut hover:bg-well"
        {...listeners}
        onKeyDown={press}
      >
        <GripVertical aria-hidden="true" className="size-4" />
      </button>
    </div>
  )
}
