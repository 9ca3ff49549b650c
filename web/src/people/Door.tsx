import type { ReactNode } from 'react'
import { Sparrow } from '../design/Sparrow.tsx'

/** The page in front of the application: first run, signing in. */
export const Door = ({ title, lead, children }: { title: string; lead: ReactNode; children?: ReactNode }) => (
  <main className="mx-auto grid min-h-dvh max-w-md content-center gap-6 px-5 py-10">
    <p className="flex items-center gap-2.5 text-chestnut">
      <Sparrow className="size-10" />
      <span className="font-display text-xl font-semibold tracking-tight text-ink">Jaunty Sparrow</span>
    </p>
    <div className="grid gap-2">
      <h1 className="text-3xl">{title}</h1>
      <p className="text-ink-soft">{lead}</p>
    </div>
    {children}
  </main>
)
