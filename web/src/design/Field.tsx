import { type ComponentProps, type ReactNode, useId } from 'react'

interface Labelled {
  readonly label: string
  readonly hint?: ReactNode
  readonly error?: string | undefined
}

const inputLook =
  'w-full rounded-md border border-rule-strong bg-sheet px-3 py-2 text-base text-ink placeholder:text-ink-soft aria-invalid:border-trouble'

/** A labelled text input, with room for why its value cannot be taken. */
export function TextField({
  label,
  hint,
  error,
  className = '',
  ...input
}: Labelled & ComponentProps<'input'>) {
  const id = useId()
  return (
    <Frame id={id} label={label} hint={hint} error={error}>
      <input
        id={id}
        aria-describedby={`${id}-says`}
        aria-invalid={error ? true : undefined}
        className={`${inputLook} ${className}`}
        {...input}
      />
    </Frame>
  )
}

/** A labelled choice out of a list. */
export function ChoiceField({
  label,
  hint,
  error,
  children,
  ...select
}: Labelled & ComponentProps<'select'>) {
  const id = useId()
  return (
    <Frame id={id} label={label} hint={hint} error={error}>
      <select id={id} aria-describedby={`${id}-says`} className={inputLook} {...select}>
        {children}
      </select>
    </Frame>
  )
}

/** A yes or no with its label beside it. */
export function CheckField({ label, hint, ...input }: Omit<Labelled, 'error'> & ComponentProps<'input'>) {
  const id = useId()
  return (
    <div className="grid grid-cols-[auto_1fr] items-start gap-x-2.5">
      <input
        id={id}
        type="checkbox"
        aria-describedby={`${id}-says`}
        className="mt-1 size-4 accent-chestnut"
        {...input}
      />
      <label htmlFor={id} className="text-sm">
        {label}
      </label>
      <p id={`${id}-says`} className="col-start-2 text-sm text-ink-soft empty:hidden">
        {hint}
      </p>
    </div>
  )
}

const Frame = ({ id, label, hint, error, children }: Labelled & { id: string; children: ReactNode }) => (
  <div className="grid gap-1.5">
    <label htmlFor={id} className="text-sm font-semibold">
      {label}
    </label>
    {children}
    <p id={`${id}-says`} className={`text-sm ${error ? 'text-trouble' : 'text-ink-soft'} empty:hidden`}>
      {error ?? hint}
    </p>
  </div>
)
