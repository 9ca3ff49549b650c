import type { Telling } from '@jaunty-sparrow/core/notice'
import { priorities } from '@jaunty-sparrow/core/signal'
import { lengthWords } from '@jaunty-sparrow/core/time'
import { X } from 'lucide-react'
import { CheckField, ChoiceField, TextField } from '../design/Field.tsx'
import { IconButton } from '../design/IconButton.tsx'
import { dayNames } from '../rules/ruleWords.ts'

const waits = [0, 120, 300, 600, 900, 1800, 3600, 7200, 14_400]

interface TellingFieldsProps {
  readonly telling: Telling
  readonly name: string
  readonly onChange: (telling: Telling) => void
  readonly onRemove: (() => void) | undefined
}

const timeOf = (minutes: number): string =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
const minutesOf = (text: string): number => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5))

/** Of which alarms somebody is told, after how long, and at which times. */
export function TellingFields({ telling, name, onChange, onRemove }: TellingFieldsProps) {
  const put = (changes: Partial<Telling>) => onChange({ ...telling, ...changes })
  const toggled = <T,>(all: readonly T[], one: T, isIn: boolean, order: readonly T[]): T[] =>
    order.filter((each) => (each === one ? isIn : all.includes(each)))
  const isAllDay = telling.from === telling.to
  return (
    <fieldset className="grid gap-3 border-l-2 border-rule-strong pl-3">
      <legend className="sr-only">{name}</legend>
      <div className="flex items-start gap-4">
        <div className="flex flex-1 flex-wrap gap-x-4 gap-y-1 pt-1">
          {priorities.map((priority) => (
            <CheckField
              key={priority}
              label={priority}
              checked={telling.priorities.includes(priority)}
              onChange={({ target }) =>
                put({ priorities: toggled(telling.priorities, priority, target.checked, priorities) })
              }
            />
          ))}
        </div>
        {onRemove && (
          <IconButton name={`Without ${name}`} className="p-1.5" onClick={onRemove}>
            <X aria-hidden="true" className="size-4" />
          </IconButton>
        )}
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-56">
          <ChoiceField
            label="Told"
            value={telling.wait}
            onChange={({ target }) => put({ wait: Number(target.value) })}
          >
            {[...new Set([...waits, telling.wait])]
              .sort((a, b) => a - b)
              .map((wait) => (
                <option key={wait} value={wait}>
                  {wait === 0 ? 'at once' : `unseen for ${lengthWords(wait)}`}
                </option>
              ))}
          </ChoiceField>
        </div>
        <div className="w-40">
          <ChoiceField
            label="At"
            value={isAllDay ? 'any' : 'some'}
            onChange={({ target }) =>
              put(target.value === 'any' ? { from: 0, to: 0 } : { from: 7 * 60, to: 20 * 60 })
            }
          >
            <option value="any">any time</option>
            <option value="some">some times</option>
          </ChoiceField>
        </div>
        {!isAllDay && (
          <>
            <TextField
              label="from"
              type="time"
              required
              value={timeOf(telling.from)}
              onChange={({ target }) => target.value && put({ from: minutesOf(target.value) })}
            />
            <TextField
              label="to"
              type="time"
              required
              value={timeOf(telling.to)}
              onChange={({ target }) => target.value && put({ to: minutesOf(target.value) })}
            />
          </>
        )}
      </div>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {dayNames.map((day, place) => (
          <CheckField
            key={day}
            label={day}
            checked={telling.days.includes(place + 1)}
            onChange={({ target }) =>
              put({ days: toggled(telling.days, place + 1, target.checked, [1, 2, 3, 4, 5, 6, 7]) })
            }
          />
        ))}
      </div>
    </fieldset>
  )
}
