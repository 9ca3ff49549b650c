import { handleHeight, type TrialRow } from '@jaunty-sparrow/drawings/trial'
import { type KeyboardEvent, type PointerEvent, useRef } from 'react'
import { niceStep } from './trialRows.ts'

interface BoundHandleProps {
  readonly row: TrialRow
  readonly bound: TrialRow['bounds'][number]
  readonly says: string
  /** Where the row lies, px. */
  readonly top: number
  readonly bottom: number
  /** Where it is taken hold of, px. */
  readonly at: number
  readonly onChange: (value: number) => void
}

/** A bound that is dragged along its scale, or moved by the arrow keys. */
export function BoundHandle({ row, bound, says, top, bottom, at, onChange }: BoundHandleProps) {
  const step = niceStep(row.low, row.high)
  const decimals = Math.max(0, -Math.floor(Math.log10(step)))
  const rounded = (value: number) => Number((Math.round(value / step) * step).toFixed(decimals))
  // While it is dragged the scale stays as it was when it was taken hold of.
  const held = useRef<{ readonly from: number; readonly value: number; readonly perPixel: number }>(undefined)
  const take = (event: PointerEvent<HTMLElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId)
    held.current = {
      from: event.clientY,
      value: bound.value,
      perPixel: (row.high - row.low) / (bottom - top),
    }
  }
  const drag = (event: PointerEvent) => {
    if (!held.current) return
    const { from, value, perPixel } = held.current
    onChange(rounded(value - (event.clientY - from) * perPixel))
  }
  const press = (event: KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[
      event.key
    ]
    if (by === undefined) return
    event.preventDefault()
    onChange(rounded(bound.value + by * step))
  }
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={says}
      aria-orientation="vertical"
      aria-valuemin={row.low}
      aria-valuemax={row.high}
      aria-valuenow={bound.value}
      className="absolute left-0 flex w-15 cursor-ns-resize touch-none items-center justify-center rounded border-[1.5px] border-chestnut bg-paper font-semibold text-chestnut text-xs tabular-nums hover:bg-well"
      style={{ top: at - handleHeight / 2, height: handleHeight }}
      onPointerDown={take}
      onPointerMove={drag}
      onPointerUp={() => {
        held.current = undefined
      }}
      onPointerCancel={() => {
        held.current = undefined
      }}
      onKeyDown={press}
    >
      {bound.value}
    </div>
  )
}
