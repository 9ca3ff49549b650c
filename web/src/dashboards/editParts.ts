import type { ReactNode } from 'react'

/** What stands in and around chapters while they are edited. */
export interface EditParts {
  readonly ofInstrument: (id: string, title: string, chapter: string) => ReactNode
  readonly ofChapter: (id: string) => ReactNode
  readonly around: (id: string, chapter: string, children: ReactNode) => ReactNode
}
