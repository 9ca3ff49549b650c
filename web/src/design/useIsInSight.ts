import { type RefObject, useEffect, useRef, useState } from 'react'

/** Tells whether an element is on the screen, or about to be: what nobody sees need not be drawn. */
export function useIsInSight<E extends Element>(): [ref: RefObject<E | null>, isInSight: boolean] {
  const ref = useRef<E>(null)
  const [isInSight, setInSight] = useState(false)
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new IntersectionObserver(
      (entries) => setInSight(entries.at(-1)?.isIntersecting ?? false),
      { rootMargin: '10%' },
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return [ref, isInSight]
}
