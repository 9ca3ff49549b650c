import { LocalClock, wallClock } from '@jaunty-sparrow/core/time'
import { Popover } from 'radix-ui'
import { type FormEvent, useState } from 'react'
import { Button } from '../design/Button.tsx'
import { TextField } from '../design/Field.tsx'
import { type Stretch, shortest, type View } from './view.ts'

interface AnySpanProps {
  readonly shown: Stretch
  readonly show: (view: View) => void
  readonly timeZone: string
  readonly className: string
  /** Whether it was asked for by what stood in its place. */
  readonly isAskedFor?: boolean
}

/** Asks from when to when, by the clock of the site. */
export function AnySpan({ shown, show, timeZone, className, isAskedFor = false }: AnySpanProps) {
  const [isOpen, setOpen] = useState(isAskedFor)
  const [problem, setProblem] = useState<string>()
  const choose = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = new FormData(event.currentTarget)
    const [from, to] = ['from', 'to'].map((name) =>
      new LocalClock(timeZone).instant(Date.parse(`${form.get(name)}Z`)),
    )
    if (from === undefined || to === undefined)
      return setProblem('The clock there was put on over that hour: choose another.')
    if (!(to - from >= shortest)) return setProblem('The end must come after the beginning.')
    setProblem(undefined)
    setOpen(false)
    show({ from, to })
  }
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger className={className}>From … to …</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={16}
          className="z-40 w-72 rounded-lg border border-rule bg-sheet p-4 shadow-sheet"
        >
          <form className="grid gap-3" onSubmit={choose}>
            <TextField
              label="From"
              name="from"
              type="datetime-local"
              step={1}
              required
              defaultValue={wallClock(shown.from, timeZone)}
            />
            <TextField
              label="To"
              name="to"
              type="datetime-local"
              step={1}
              required
              defaultValue={wallClock(shown.to, timeZone)}
              error={problem}
            />
            <Button type="submit" weight="strong">
              Show it
            </Button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
