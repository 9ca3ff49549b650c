/** How numbers and dates are written: a BCP 47 tag; undefined as the browser has it. */
let language: string | undefined

/** To be set before anything is drawn that it holds for. */
export const setLanguage = (chosen: string | null): void => {
  language = chosen ?? undefined
}

export const languageNow = (): string | undefined => language
