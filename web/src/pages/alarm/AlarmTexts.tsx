import type { Alarm } from '@jaunty-sparrow/core/signal'
import { lengthWords } from '@jaunty-sparrow/core/time'
import { priorityWords } from '../../alarms/alarmWords.ts'

/** What whoever is woken by an alarm reads; what nobody has said is left out. */
export function AlarmTexts({ alarm }: { readonly alarm: Alarm }) {
  const { priority, reason, cause, consequence, response, timeToAct } = alarm
  const texts = [
    ['What to do', response],
    ['Time to act', timeToAct === null ? '' : lengthWords(timeToAct)],
    ['Why it matters', consequence],
    ['What it comes of', cause],
    ['Priority', reason === '' ? priorityWords[priority] : `${priorityWords[priority]}, because ${reason}`],
  ] as const
  return (
    <dl className="grid max-w-prose content-start gap-3">
      {texts.map(([title, text]) =>
        text === '' ? null : (
          <div key={title} className="grid gap-0.5">
            <dt className="text-sm text-ink-soft">{title}</dt>
            <dd>{text}</dd>
          </div>
        ),
      )}
    </dl>
  )
}
