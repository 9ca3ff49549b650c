import { meanOf } from './mean.ts'
import { heldAt, type Taking } from './window.ts'

/** The last value in hundredths of the mean of the span: 100 is as it usually was. */
export const baselineIndex: Taking = {
  says: 'its index, 100 being its mean',
  of: (window) => (100 * heldAt(window.readings, window.last).value) / meanOf(window),
}
