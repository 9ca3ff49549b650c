import { useEffect } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { useSessionQuery } from '../people/peopleApi.ts'

/** Leads to the page where somebody wants to begin, when they come in by the front door; later the door leads where it says. */
export function useHome(): void {
  const { pathname } = useLocation()
  const navigate = useNavigate()
  const { data: session } = useSessionQuery()
  const home = session?.state === 'signed-in' ? session.preferences.home : null
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where one came in
  useEffect(() => {
    if (pathname === '/' && home !== null && home !== '/') void navigate(home, { replace: true })
  }, [])
}
