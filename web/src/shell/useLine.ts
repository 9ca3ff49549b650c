import { useEffect } from 'react'
import { live } from '../live/connection.ts'

/** Holds the line to the server open as long as a frame of pages is there. */
export function useLine(): void {
  useEffect(() => {
    live.open()
    return () => live.close()
  }, [])
  useEffect(() => live.wantPresence(), [])
}
