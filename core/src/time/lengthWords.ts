/** How long something is, in the largest unit that tells it whole. */
export function lengthWords(seconds: number): string {
  if (seconds % 3600 === 0 && seconds > 0) return `${seconds / 3600} h`
  return seconds % 60 === 0 && seconds > 0 ? `${seconds / 60} min` : `${seconds} s`
}
