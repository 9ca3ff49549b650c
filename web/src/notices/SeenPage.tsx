import { lengthWords } from '@jaunty-sparrow/core/time'
import { type FormEvent, useState } from 'react'
import { Link, useLocation } from 'react-router'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Skeleton } from '../design/Skeleton.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { Door } from '../people/Door.tsx'
import { useSeenLinkQuery, useUseSeenLinkMutation } from './noticesApi.ts'

const moment = dateFormat({
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
})

/** Where the link of a notice leads: what it is about, and one press that says that somebody sees to it. */
export function SeenPage() {
  const { hash } = useLocation()
  const token = hash.slice(1)
  const { data, error } = useSeenLinkQuery(token)
  const [use, used] = useUseSeenLinkMutation()
  const [word, setWord] = useState('')
  const toAlarms = (
    <Link to="/guard" className="font-semibold text-chestnut underline">
      To the page of alarms
    </Link>
  )
  if (error)
    return (
      <Door title="This link does not work" lead={problemText(error)}>
        {toAlarms}
      </Door>
    )
  if (!data) return <Skeleton className="h-dvh" />
  const waiting = data.lines.filter(({ isWaiting }) => isWaiting).length
  const answer = (event: FormEvent) => {
    event.preventDefault()
    void use({ token, word: word.trim() })
  }
  return (
    <Door
      title={data.inAll === 1 ? 'An alarm' : `${data.inAll} alarms`}
      lead={`of which ${data.wayName} was told`}
    >
      <ul className="grid gap-4">
        {data.lines.map((line) => (
          <li
            key={`${line.title} ${line.raisedAt}`}
            className="grid gap-0.5 border-l-2 border-rule-strong pl-3"
          >
            <strong>{line.title}</strong>
            <span className="text-sm text-ink-soft">
              {[
                line.says,
                `since ${moment.format(line.raisedAt)}`,
                line.overAt === null ? line.priority : 'over again',
              ]
                .filter((part) => part !== '')
                .join(' · ')}
            </span>
            {line.response !== '' && <span className="text-sm">What to do: {line.response}</span>}
            {line.timeToAct !== null && (
              <span className="text-sm text-ink-soft">Time to act: {lengthWords(line.timeToAct)}</span>
            )}
          </li>
        ))}
      </ul>
      {used.data ? (
        <p role="status" className="font-semibold">
          Thank you: the others know that you see to it.
        </p>
      ) : data.usedAt !== null ? (
        <p role="status">This link was used at {moment.format(data.usedAt)}; it works once.</p>
      ) : waiting === 0 ? (
        <p role="status">Somebody has seen to it already.</p>
      ) : (
        <form onSubmit={answer} className="grid gap-4">
          <TextField
            label="A word for the others"
            hint="What you do now; it may stay empty."
            maxLength={300}
            value={word}
            onChange={({ target }) => setWord(target.value)}
          />
          {used.error && <Notice tone="trouble" title={problemText(used.error)} />}
          <Button type="submit" weight="strong" disabled={used.isLoading}>
            I see to it
          </Button>
        </form>
      )}
      <p>{toAlarms}</p>
    </Door>
  )
}
