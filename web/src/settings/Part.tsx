import type { ReactNode } from 'react'

/** A titled part of a page, parted by a ruled line. */
export const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="grid gap-2 border-t border-rule pt-4 text-sm">
    <h2 className="text-lg">{title}</h2>
    {children}
  </section>
)
