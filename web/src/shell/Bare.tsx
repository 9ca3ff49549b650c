import { Outlet } from 'react-router'
import { useLine } from './useLine.ts'

/** A page with nothing around it, for people who are signed in. */
export function Bare() {
  useLine()
  return <Outlet />
}
