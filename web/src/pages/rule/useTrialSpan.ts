import { useEffect, useState } from 'react'
import { type SpanName, spans } from '../../signals/view.ts'
import { serverNow } from '../../time/clock.ts'

/** So long nothing is changed before it is tried, ms. */
const rest = 120
const minute = 60_000

/** What is tried when it has rested for a moment, and over which span up to now, epoch ms. */
export function useTrialSpan<T>(changed: T, first: SpanName) {
  const [span, setSpan] = useState<SpanName>(first)
  const [to, setTo] = useState(() => Math.floor(serverNow() / minute) * minute)
  const [tried, setTried] = useState(changed)
  useEffect(() => {
    const waiting = setTimeout(() => setTried(changed), rest)
    return () => clearTimeout(waiting)
  }, [changed])
  const choose = (next: SpanName) => {
    setSpan(next)
    setTo(Math.floor(serverNow() / minute) * minute)
  }
  return { span, choose, from: to - spans[span].length, to, tried }
}
