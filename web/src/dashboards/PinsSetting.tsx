import { type KeyboardEvent, type PointerEvent, useRef } from 'react'

type Pin = readonly [across: number, down: number]

interface PinsSettingProps {
  readonly picture: string
  readonly ratio: number
  readonly names: readonly string[]
  readonly pins: readonly Pin[]
  readonly onChange: (pins: readonly Pin[]) => void
}

/** An arrow key moves so far, of 1. */
const keyStep = 0.01

/** Where values stand on a picture: each is dragged to its place, or moved with the arrow keys. */
export function PinsSetting({ picture, ratio, names, pins, onChange }: PinsSettingProps) {
  const place = useRef<HTMLDivElement>(null)
  const all = names.map((_, at): Pin => pins[at] ?? [0.02, Math.min(0.9, 0.06 + at * 0.12)])
  const put = (at: number, [across, down]: Pin) =>
    onChange(all.with(at, [Math.min(0.98, Math.max(0, across)), Math.min(0.98, Math.max(0, down))]))
  const drag = (at: number) => (event: PointerEvent) => {
    const box = place.current?.getBoundingClientRect()
    if (!box || event.buttons === 0) return
    put(at, [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height])
  }
  const press = (at: number) => (event: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
    if (!step) return
    event.preventDefault()
    const [across, down] = all[at] ?? [0, 0]
    put(at, [across + (step[0] ?? 0) * keyStep, down + (step[1] ?? 0) * keyStep])
  }
  return (
    <div className="grid gap-1.5">
      <p className="text-sm font-semibold">Drag each value to its place</p>
      <div
        ref={place}
        className="relative w-full touch-none overflow-hidden rounded border border-rule bg-well bg-contain bg-no-repeat"
        style={{ aspectRatio: ratio, backgroundImage: picture === '' ? undefined : `url("${picture}")` }}
      >
        {names.map((name, at) => (
          <button
            key={name}
            type="button"
            aria-label={`${name}: move with the arrow keys`}
            className="absolute rounded border border-chestnut bg-paper px-1.5 text-xs text-chestnut"
            style={{ left: `${(all[at]?.[0] ?? 0) * 100}%`, top: `${(all[at]?.[1] ?? 0) * 100}%` }}
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={drag(at)}
            onKeyDown={press(at)}
          >
            {name}
          </button>
        ))}
      </div>
    </div>
  )
}
