/** How long each thing may be that is sent and becomes text, UTF-16 units; the contract says the same of what people type. */
export const longest = {
  /** A field's JSON Pointer. */
  field: 200,
  /** What stands behind `/in/`. */
  tail: 200,
  topic: 200,
  /** Who sent something, or says so. */
  sender: 60,
  mediaType: 100,
  reason: 1000,
  /** What a signal of texts may hold. */
  text: 1000,
} as const

/** Control characters, and halves of characters that stand alone: neither can be stored or shown as text. */
const unfit = /[\p{Cc}\p{Cs}]/u
const unfitOnes = new RegExp(unfit, 'gu')

/** Says why something that was sent cannot be taken as text; undefined when it can. It reads on after "it". */
export function textProblem(text: string, most: number): string | undefined {
  if (text.length > most) return `is longer than ${most} characters`
  return unfit.test(text) ? 'holds a control character, or half of a character' : undefined
}

/** A text that somebody sent as it can be kept and shown: cut where it is too long, with � for what is no text. */
export function presentable(text: string, most: number): string {
  const cut = text.length > most ? `${text.slice(0, most - 1)}…` : text
  // Asked of every message, and nearly always there is nothing to be done.
  return unfit.test(cut) ? cut.replaceAll(unfitOnes, '\uFFFD') : cut
}
