import type { Priority } from '../signal/alarm.ts'
import { lengthWords } from '../time/lengthWords.ts'

/** What a notice says of one alarm, as it was when somebody was told. */
export interface NoticeLine {
  readonly alarmId: string
  /** *Humidity, Cave 1: too low* */
  readonly title: string
  /** The value and its limit; empty where there is none. */
  readonly says: string
  readonly priority: Priority
  readonly consequence: string
  readonly response: string
  /** s */
  readonly timeToAct: number | null
  /** When it was raised, epoch ms. */
  readonly raisedAt: number
  /** When it was over, epoch ms; null while it is not. */
  readonly overAt: number | null
}

export const noticeKinds = ['alarm', 'over', 'test'] as const
export type NoticeKind = (typeof noticeKinds)[number]

/** So many alarms are told one by one. */
export const mostLines = 30

const rank: Readonly<Record<Priority, number>> = { urgent: 0, important: 1, minor: 2 }

/** Those somebody has to know of first. */
export const inOrderOfPriority = (lines: readonly NoticeLine[]): NoticeLine[] =>
  [...lines].sort((a, b) => rank[a.priority] - rank[b.priority] || a.raisedAt - b.raisedAt)

/**
 * A notice in words.
 * @param lines at most as many as are told one by one
 * @param inAll how many there are
 * @param clock writes an instant as whoever reads it tells time
 * @param link where it is answered; null where there is nothing to answer
 */
export function noticeText(
  kind: NoticeKind,
  lines: readonly NoticeLine[],
  inAll: number,
  clock: (at: number) => string,
  link: string | null,
): { readonly subject: string; readonly text: string } {
  if (kind === 'test')
    return {
      subject: 'Jaunty Sparrow: a test',
      text: 'This is a test: notices of alarms come this way.\n',
    }
  const [first] = lines
  const isOver = kind === 'over'
  const subject =
    inAll === 1 && first
      ? `${isOver ? 'Over: ' : first.priority === 'urgent' ? 'Urgent: ' : ''}${first.title}`
      : `${isOver ? 'Over: ' : ''}${inAll} alarms, ${first?.title ?? ''} the first`
  const told = lines.map((line) => (isOver ? overText(line, clock) : raisedText(line, clock)))
  const more = inAll > lines.length ? [`and ${inAll - lines.length} more.`] : []
  const answer =
    link === null ? [] : [`I see to it: ${link}\n(It shows first what it is about, and works once.)`]
  return { subject, text: `${[...told, ...more, ...answer].join('\n\n')}\n` }
}

function raisedText(
  { title, says, priority, consequence, response, timeToAct, raisedAt, overAt }: NoticeLine,
  clock: (at: number) => string,
): string {
  const since =
    overAt === null ? `since ${clock(raisedAt)}` : `${clock(raisedAt)} to ${clock(overAt)}, over again`
  return [
    title,
    [says, since, priority].filter((part) => part !== '').join(' · '),
    response === '' ? '' : `What to do: ${response}`,
    consequence === '' ? '' : `Why it matters: ${consequence}`,
    timeToAct === null ? '' : `Time to act: ${lengthWords(timeToAct)}`,
  ]
    .filter((part) => part !== '')
    .join('\n')
}

const overText = ({ title, raisedAt, overAt }: NoticeLine, clock: (at: number) => string): string =>
  `${title}\nover: ${clock(raisedAt)}${overAt === null ? '' : ` to ${clock(overAt)}`}`
