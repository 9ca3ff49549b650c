import type { Telling } from '@jaunty-sparrow/core/notice'

/** What is usual: whatever is urgent or important, at once, at any time. */
export const usualTelling: Telling = {
  priorities: ['urgent', 'important'],
  days: [1, 2, 3, 4, 5, 6, 7],
  from: 0,
  to: 0,
  wait: 0,
}
