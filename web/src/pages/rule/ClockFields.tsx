import type { Site } from '@jaunty-sparrow/contract'
import type { ClockMoment, RuleClock } from '@jaunty-sparrow/core/rule'
import { useId } from 'react'
import { Button } from '../../design/Button.tsx'
import { ChoiceField, TextField } from '../../design/Field.tsx'
import { dayNames, timeOfDay } from '../../rules/ruleWords.ts'
import { NumberField } from './NumberField.tsx'

const everyDay = [1, 2, 3, 4, 5, 6, 7]

interface ClockFieldsProps {
  readonly clock: RuleClock | null
  readonly site: Site | undefined
  readonly onChange: (clock: RuleClock | null) => void
}

/** The times it may act in, by the clock or the sun of its site. */
export function ClockFields({ clock, site, onChange }: ClockFieldsProps) {
  const hasSun = site !== undefined && site.lat !== null && site.lon !== null
  const evening = (): RuleClock =>
    hasSun
      ? { days: everyDay, from: { of: 'sunset', minutes: 0 }, to: { of: 'midnight', minutes: 23 * 60 } }
      : {
          days: everyDay,
          from: { of: 'midnight', minutes: 18 * 60 },
          to: { of: 'midnight', minutes: 23 * 60 },
        }
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1 font-display text-base">At which times</legend>
      {!clock && (
        <div className="flex flex-wrap items-center gap-3">
          <p className="text-sm text-ink-soft">At any time.</p>
          <Button onClick={() => onChange(evening())}>Only at some times</Button>
        </div>
      )}
      {clock && (
        <>
          <div className="flex flex-wrap items-end gap-3">
            <MomentField
              label="from"
              moment={clock.from}
              hasSun={hasSun}
              onChange={(from) => onChange({ ...clock, from })}
            />
            <MomentField
              label="to"
              moment={clock.to}
              hasSun={hasSun}
              onChange={(to) => onChange({ ...clock, to })}
            />
            <Button weight="quiet" onClick={() => onChange(null)}>
              At any time
            </Button>
          </div>
          <div className="flex flex-wrap gap-x-4 gap-y-1">
            {dayNames.map((name, place) => (
              <label key={name} className="flex items-center gap-1.5 text-sm">
                <input
                  type="checkbox"
                  className="size-4 accent-chestnut"
                  checked={clock.days.includes(place + 1)}
                  onChange={({ target }) =>
                    onChange({
                      ...clock,
                      days: target.checked
                        ? [...clock.days, place + 1].sort((a, b) => a - b)
                        : clock.days.filter((day) => day !== place + 1),
                    })
                  }
                />
                {name}
              </label>
            ))}
          </div>
          <p className="text-sm text-ink-soft">
            {site ? `By the clock of ${site.name}, ${site.timeZone.replaceAll('_', ' ')}.` : ''}
            {!hasSun && ' Where the site lies is not known: then there is no sun to go by.'}
          </p>
        </>
      )}
    </fieldset>
  )
}

interface MomentFieldProps {
  readonly label: string
  readonly moment: ClockMoment
  readonly hasSun: boolean
  readonly onChange: (moment: ClockMoment) => void
}

function MomentField({ label, moment, hasSun, onChange }: MomentFieldProps) {
  const id = useId()
  const { of, minutes } = moment
  return (
    <fieldset className="flex items-end gap-2" aria-labelledby={id}>
      <legend id={id} className="sr-only">
        {label}
      </legend>
      <div className="w-32">
        <ChoiceField
          label={label}
          value={of}
          onChange={({ target }) =>
            onChange(
              target.value === 'midnight'
                ? { of: 'midnight', minutes: 18 * 60 }
                : { of: target.value as ClockMoment['of'], minutes: 0 },
            )
          }
        >
          <option value="midnight">the clock</option>
          {(hasSun || of === 'sunrise') && <option value="sunrise">sunrise</option>}
          {(hasSun || of === 'sunset') && <option value="sunset">sunset</option>}
        </ChoiceField>
      </div>
      <div className="w-28">
        {of === 'midnight' ? (
          <TextField
            label={`${label}, time`}
            type="time"
            required
            value={timeOfDay(minutes % 1440)}
            onChange={({ target }) => {
              const [hours = 0, rest = 0] = target.value.split(':').map(Number)
              onChange({ of, minutes: hours * 60 + rest })
            }}
          />
        ) : (
          <NumberField
            label="minutes after"
            min={-720}
            max={720}
            value={minutes}
            onChange={(after) => onChange({ of, minutes: Math.round(after) })}
          />
        )}
      </div>
    </fieldset>
  )
}
