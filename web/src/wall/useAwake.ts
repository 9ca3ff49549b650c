import { useEffect, useState } from 'react'

/** Keeps the screen awake as long as it is shown. @returns why that cannot be, where it cannot */
export function useAwake(): string | undefined {
  const [problem, setProblem] = useState<string>()
  useEffect(() => {
    let lock: WakeLockSentinel | undefined
    let isOver = false
    const take = async () => {
      if (!('wakeLock' in navigator)) {
        setProblem(
          'This screen may fall asleep: browsers keep it awake over TLS only. Set the machine itself to stay awake.',
        )
        return
      }
      try {
        const taken = await navigator.wakeLock.request('screen')
        if (isOver) await taken.release()
        else lock = taken
      } catch {
        setProblem('This screen may fall asleep: the browser does not keep it awake just now.')
      }
    }
    // A lock is lost when the page was out of sight.
    const again = () => document.visibilityState === 'visible' && void take()
    void take()
    document.addEventListener('visibilitychange', again)
    return () => {
      isOver = true
      document.removeEventListener('visibilitychange', again)
      void lock?.release()
    }
  }, [])
  return problem
}
