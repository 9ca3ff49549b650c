/**
 * How long ago something was, as people say it: `just now`, `12 s`, `5 min`, `3 h`, `9 d`.
 * @param milliseconds an age; a little below zero happens when clocks differ and counts as now
 */
export function describeAge(milliseconds: number): string {
  const seconds = Math.floor(milliseconds / 1000)
  if (seconds < 2) return 'just now'
  if (seconds < 60) return `${seconds} s ago`
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min ago`
  if (seconds < 48 * 3600) return `${Math.floor(seconds / 3600)} h ago`
  return `${Math.floor(seconds / 86_400)} d ago`
}
