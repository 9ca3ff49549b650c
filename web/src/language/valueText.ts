import { formatValue } from '@jaunty-sparrow/core/signal'
import { languageNow } from './language.ts'

const signs = new Map<string | undefined, string>()

/** What stands between whole and parts: a point or a comma, both of which ISO 80000-1 allows. */
function decimalSign(): string {
  const language = languageNow()
  const known = signs.get(language)
  if (known) return known
  const parts = new Intl.NumberFormat(language).formatToParts(1.5)
  const sign = parts.find(({ type }) => type === 'decimal')?.value ?? '.'
  signs.set(language, sign)
  return sign
}

/** A number that was written with a point, in the language that was chosen. */
export const written = (number: string): string => number.replace('.', decimalSign())

/** Writes a signal's value for the eye, in the language that was chosen; see `formatValue` of core. */
export const valueText = (...args: Parameters<typeof formatValue>): string => {
  const text = formatValue(...args)
  return typeof args[0] === 'number' && args[1].kind === 'number' ? written(text) : text
}
