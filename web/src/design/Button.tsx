import type { ComponentProps } from 'react'

type Weight = 'strong' | 'plain' | 'quiet' | 'danger'

const looks: Record<Weight, string> = {
  strong: 'bg-chestnut text-on-chestnut hover:bg-chestnut-deep border border-transparent',
  plain: 'border border-rule-strong text-ink hover:border-chestnut hover:text-chestnut bg-sheet',
  quiet: 'border border-transparent text-chestnut hover:bg-well',
  danger: 'border border-trouble text-trouble hover:bg-trouble-wash bg-sheet',
}

/** The classes of a button, for links that look like one. */
export const buttonLook = (weight: Weight = 'plain'): string =>
  `inline-flex min-h-9 items-center justify-center gap-1.5 rounded-md px-3.5 py-1.5 text-sm font-semibold transition-colors disabled:opacity-50 disabled:cursor-not-allowed ${looks[weight]}`

/** Something to press. One button of a view is strong: the next step. */
export const Button = ({
  weight = 'plain',
  className = '',
  type = 'button',
  ...rest
}: ComponentProps<'button'> & { weight?: Weight }) => (
  <button type={type} className={`${buttonLook(weight)} ${className}`} {...rest} />
)
