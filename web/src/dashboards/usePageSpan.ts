import { useCallback } from 'react'
import { useSearchParams } from 'react-router'
import { type SpanName, type Stretch, spans } from '../signals/view.ts'
import { useMoment } from '../time/moment.ts'

/** Over which span a page shows courses: a named one, or one of any length that ends at its moment (ms); undefined where each instrument has its own. */
export type PageSpan = SpanName | number | undefined

/** The span in the address bar, so that it can be shared and gone back from. */
export function usePageSpan(): {
  readonly span: PageSpan
  readonly choose: (chosen: SpanName | Stretch | undefined) => void
} {
  const [params, setParams] = useSearchParams()
  const { at } = useMoment()
  const stated = params.get('span') ?? ''
  const length = Number(stated)
  const span = Object.hasOwn(spans, stated)
    ? (stated as SpanName)
    : // What came once does not move on: live, there is no such span.
      at !== undefined && Number.isInteger(length) && length > 0
      ? length
      : undefined
  const choose = useCallback(
    (chosen: SpanName | Stretch | undefined) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before)
          if (chosen === undefined) next.delete('span')
          else if (typeof chosen === 'string') next.set('span', chosen)
          else {
            next.set('span', String(chosen.to - chosen.from))
            next.set('at', String(chosen.to))
          }
          return next
        },
        { preventScrollReset: true },
      ),
    [setParams],
  )
  return { span, choose }
}

/** How long a span is, ms. */
export const lengthOf = (span: SpanName | number): number =>
  typeof span === 'number' ? span : spans[span].length
