import { useEffect, useState } from 'react'

/** What somebody types, once they pause for so long, ms. */
export function useSettled<T>(value: T, pause: number): T {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), pause)
    return () => clearTimeout(timer)
  }, [value, pause])
  return settled
}
