import { type RefObject, useLayoutEffect, useRef, useState } from 'react'

/** How wide an element is, px; 0 until that is known. */
export function useWidth<E extends Element>(): [ref: RefObject<E | null>, width: number] {
  const ref = useRef<E>(null)
  const [width, setWidth] = useState(0)
  useLayoutEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width))
    observer.observe(element)
    return () => observer.disconnect()
  })
  return [ref, width]
}
