import type { Condition } from '@jaunty-sparrow/contract'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { useConfirmClockMutation } from './conditionApi.ts'

type Doubt = NonNullable<Condition['clock']>

/** Why the clock of the server is not trusted, in words. */
export const whyDoubtful = ({ why, clock, against }: Doubt): string => {
  const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'short' })
  const says = `It says ${moment.format(clock)}`
  if (why === 'database') return `${says}, and the clock of the database ${moment.format(against)}.`
  return why === 'ahead'
    ? `${says}, and the server was last known to run at ${moment.format(against)}. Was it off all that time?`
    : `${says}, and the server was known to run at ${moment.format(against)} already.`
}

/** Lets the owner say that the clock is right. */
export function ConfirmClock() {
  const [confirm, { error, isLoading }] = useConfirmClockMutation()
  return (
    <span className="inline-flex flex-wrap items-center gap-2">
      <Button onClick={() => void confirm()} disabled={isLoading}>
        The clock is right
      </Button>
      {error && <span className="text-trouble">{problemText(error)}</span>}
    </span>
  )
}
