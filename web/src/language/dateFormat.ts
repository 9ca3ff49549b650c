import { languageNow } from './language.ts'

/** Writes dates and times in the language that was chosen, whenever that was. */
export interface DateFormat {
  format(at: number): string
  formatRange(from: number, to: number): string
}

/** @param options as of `Intl.DateTimeFormat` */
export function dateFormat(options: Intl.DateTimeFormatOptions): DateFormat {
  let made: { language: string | undefined; format: Intl.DateTimeFormat } | undefined
  const current = () => {
    const language = languageNow()
    if (!made || made.language !== language)
      made = { language, format: new Intl.DateTimeFormat(language, options) }
    return made.format
  }
  return {
    format: (at) => current().format(at),
    formatRange: (from, to) => current().formatRange(from, to),
  }
}
