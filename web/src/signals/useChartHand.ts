import debounce from 'lodash-es/debounce.js'
import { type MouseEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react'
import { serverNow } from '../time/clock.ts'
import { Shared } from '../time/shared.ts'
import { moved, type Stretch, type View, zoomed } from './view.ts'

/** What the hand points at, epoch ms, on all charts of the page together. */
export const pointedAt = new Shared<number | undefined>(undefined)
/** What is shown while the hand moves; the page follows when it rests. */
export const moving = new Shared<Stretch | undefined>(undefined)

/** Where the hand came to rest. */
let rested: Stretch | undefined

/** After so long without a movement the page follows, ms. */
const rest = 200
/** A press that moves by less than this is no drag, px. */
const steady = 6
const zoomOfKey: Readonly<Record<string, number>> = { '+': 0.5, '=': 0.5, '-': 2 }
const moveOfKey: Readonly<Record<string, number>> = {
  ArrowLeft: -0.25,
  ArrowRight: 0.25,
  PageUp: -1,
  PageDown: 1,
}

interface HandParts {
  readonly shown: Stretch
  readonly show: (view: View) => void
  /** Tells where the value at an instant, epoch ms, comes from. */
  readonly explain: ((at: number) => void) | undefined
}

/** Where a drag over a chart began and is, epoch ms. */
export interface Drag {
  readonly from: number
  readonly to: number
}

/**
 * What can be done with a chart by hand: point, drag over a stretch to see it larger, push it along with shift or a finger, zoom
 * with two fingers, with the wheel once it has the focus or with Ctrl, and all of it with keys; pressed twice it tells where the value
 * there comes from.
 */
export function useChartHand(place: SVGRectElement | null, { shown, show, explain }: HandParts) {
  const [drag, setDrag] = useState<Drag>()
  const fingers = useRef(new Map<number, number>())
  const current = useRef({ shown, show, explain })
  current.current = { shown, show, explain }
  const settle = useMemo(
    () =>
      debounce(() => {
        rested = moving.get()
        if (rested) current.current.show(rested)
      }, rest),
    [],
  )
  useEffect(() => settle.cancel, [settle])
  // Only when the page has followed: who goes on before would start again from where it was.
  // biome-ignore lint/correctness/useExhaustiveDependencies: that is when what is shown changes
  useEffect(() => {
    if (moving.get() === rested) moving.set(undefined)
  }, [shown])
  const hand = useMemo(() => {
    const now = () => moving.get() ?? current.current.shown
    const instant = (clientX: number): number => {
      const box = place?.getBoundingClientRect()
      const { from, to } = now()
      return box ? from + ((clientX - box.left) / box.width) * (to - from) : from
    }
    const share = (pixels: number): number => pixels / (place?.getBoundingClientRect().width ?? 1)
    const go = (stretch: Stretch) => {
      moving.set(stretch)
      settle()
    }
    return {
      instant,
      zoom: (factor: number, at: number) => go(zoomed(now(), factor, at, serverNow())),
      move: (by: number) => go(moved(now(), by, serverNow())),
      share,
    }
  }, [place, settle])

  // React listens to wheels without the right to keep the page from scrolling.
  useEffect(() => {
    if (!place) return
    const turn = (event: WheelEvent) => {
      const isAlong = Math.abs(event.deltaX) > Math.abs(event.deltaY)
      const hasFocus = place.closest('[data-chart]')?.contains(document.activeElement) ?? false
      if (!isAlong && !event.ctrlKey && !event.metaKey && !hasFocus) return
      event.preventDefault()
      if (isAlong) hand.move(hand.share(event.deltaX))
      else hand.zoom(1.002 ** event.deltaY, hand.instant(event.clientX))
    }
    const press = (event: KeyboardEvent) => {
      const { key } = event
      const { from, to } = moving.get() ?? current.current.shown
      if (key in zoomOfKey) hand.zoom(zoomOfKey[key] ?? 1, pointedAt.get() ?? (from + to) / 2)
      else if (key in moveOfKey) hand.move(moveOfKey[key] ?? 0)
      else if (key === 'End') current.current.show({ span: 'hour' })
      else if (key === 'Enter') current.current.explain?.(Math.round(pointedAt.get() ?? to))
      else return
      event.preventDefault()
    }
    const chart = place.closest<HTMLElement>('[data-chart]')
    place.addEventListener('wheel', turn, { passive: false })
    chart?.addEventListener('keydown', press)
    return () => {
      place.removeEventListener('wheel', turn)
      chart?.removeEventListener('keydown', press)
    }
  }, [place, hand])

  const down = (event: PointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId)
    fingers.current.set(event.pointerId, event.clientX)
    if (event.pointerType !== 'touch' && !event.shiftKey) {
      const at = hand.instant(event.clientX)
      setDrag({ from: at, to: at })
    }
  }
  const move = (event: PointerEvent) => {
    pointedAt.set(hand.instant(event.clientX))
    const before = fingers.current.get(event.pointerId)
    if (before === undefined) return
    if (drag) return setDrag({ ...drag, to: hand.instant(event.clientX) })
    const [other] = [...fingers.current].filter(([id]) => id !== event.pointerId)
    if (other === undefined) hand.move(-hand.share(event.clientX - before))
    else {
      const [, fixed] = other
      const [was, is] = [Math.abs(before - fixed), Math.abs(event.clientX - fixed)]
      if (was > steady && is > steady) hand.zoom(was / is, hand.instant(fixed))
    }
    fingers.current.set(event.pointerId, event.clientX)
  }
  const up = (event: PointerEvent) => {
    fingers.current.delete(event.pointerId)
    if (!drag) return
    setDrag(undefined)
    const stretch = {
      from: Math.round(Math.min(drag.from, drag.to)),
      to: Math.round(Math.max(drag.from, drag.to)),
    }
    const pixels =
      (stretch.to - stretch.from) / (current.current.shown.to - current.current.shown.from) / hand.share(1)
    if (pixels > steady) show(zoomed(stretch, 1, stretch.from, serverNow()))
  }
  const press = (event: MouseEvent) => explain?.(Math.round(hand.instant(event.clientX)))
  const leave = () => pointedAt.set(undefined)
  return {
    drag,
    handlers: {
      onPointerDown: down,
      onPointerMove: move,
      onPointerUp: up,
      onPointerCancel: up,
      onPointerLeave: leave,
      onDoubleClick: press,
    },
  }
}
