import { useCallback } from 'react'
import { useMatch, useSearchParams } from 'react-router'
import { paramsOf, type Stretch, type View, viewOf } from './view.ts'

/** What the charts of a page show; the address bar holds it, so that it can be shared and gone back from. */
export function useView(): [view: View, show: (view: View) => void] {
  const [params, setParams] = useSearchParams()
  const show = useCallback(
    (view: View) => setParams(paramsOf(view), { preventScrollReset: true }),
    [setParams],
  )
  return [viewOf(params), show]
}

/** The stretch of the past that the page shows; undefined on one that shows the present. */
export function useLookedAt(): Stretch | undefined {
  const [view] = useView()
  const hasCharts = useMatch('/devices/:address') !== null
  return hasCharts && 'from' in view ? view : undefined
}
