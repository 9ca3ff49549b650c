/** Whether numbers and dates can be written the way this BCP 47 tag names. */
export function isLanguageTag(tag: string): boolean {
  try {
    return Intl.NumberFormat.supportedLocalesOf(tag).length > 0
  } catch {
    return false
  }
}
