import { CircleAlert, Info } from 'lucide-react'
import type { ReactNode } from 'react'

/** Something the person should know, here and now: trouble, or plain information. */
export const Notice = ({
  tone,
  title,
  children,
}: {
  tone: 'trouble' | 'info'
  title: string
  children?: ReactNode
}) => {
  const Icon = tone === 'trouble' ? CircleAlert : Info
  return (
    <div
      role={tone === 'trouble' ? 'alert' : 'status'}
      className={`flex gap-3 rounded-md border p-3.5 text-sm ${tone === 'trouble' ? 'border-trouble bg-trouble-wash' : 'border-rule bg-well'}`}
    >
      <Icon
        aria-hidden="true"
        className={`mt-0.5 size-4 shrink-0 ${tone === 'trouble' ? 'text-trouble' : 'text-ink-soft'}`}
      />
      <div className="grid gap-1">
        <p className="font-semibold">{title}</p>
        {children && <div className="text-ink-soft">{children}</div>}
      </div>
    </div>
  )
}
