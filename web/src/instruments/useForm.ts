import { type Form, forms } from '@jaunty-sparrow/core/layout'
import { type RefObject, useLayoutEffect, useRef, useState } from 'react'

/** Narrower than this is read as on a phone, wider than that as on a wall, px. */
const widths = { phone: 560, wall: 1600 }

/** How a place is read, by how wide it is. */
export interface MeasuredForm {
  readonly form: Form
  /** px */
  readonly width: number
}

const formOf = (width: number): Form =>
  width < widths.phone ? forms.phone : width >= widths.wall ? forms.wall : forms.desk

/** Measures how wide a place is, before it is painted and whenever it changes. */
export function useForm<E extends HTMLElement>(): [ref: RefObject<E | null>, measured: MeasuredForm] {
  const ref = useRef<E>(null)
  const [width, setWidth] = useState(0)
  useLayoutEffect(() => {
    const element = ref.current
    if (!element) return
    setWidth(element.clientWidth)
    const observer = new ResizeObserver(() => setWidth(element.clientWidth))
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return [ref, { form: formOf(width), width }]
}
