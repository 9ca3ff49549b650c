import type { Signal } from '@jaunty-sparrow/contract'
import type { PlacedInstrument } from '@jaunty-sparrow/core/dashboard'
import { importances } from '@jaunty-sparrow/core/layout'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { between } from '@jaunty-sparrow/core/units'
import { instrumentOf, instruments, settingsOf } from '@jaunty-sparrow/drawings/registry'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { UnitField } from '../units/UnitField.tsx'
import { PinsSetting } from './PinsSetting.tsx'
import { SettingField } from './SettingField.tsx'

interface InstrumentSheetProps {
  readonly instrument: PlacedInstrument
  /** What each of its references stands for just now. */
  readonly signals: readonly (Signal | undefined)[]
  readonly onChange: (to: Partial<Omit<PlacedInstrument, 'id'>>) => void
  readonly onAddSignals: () => void
  readonly onClose: () => void
}

const importanceNames = { small: 'small', normal: 'normal', large: 'large', full: 'the whole row' } as const

/** What an instrument is set to. What is changed shows at once on the page behind, and can be undone there. */
export function InstrumentSheet({
  instrument,
  signals,
  onChange,
  onAddSignals,
  onClose,
}: InstrumentSheetProps) {
  const kind = instrumentOf(instrument.kind)
  const there = signals.flatMap((signal) => signal ?? [])
  const numeric = there.find(({ unit }) => unit !== null)
  const fitting = instruments.filter(
    ({ takes }) => there.every((signal) => takes.kinds.includes(signal.kind)) && there.length <= takes.most,
  )
  const settings = kind ? settingsOf(kind, instrument.settings[kind.kind]) : {}
  const set = (changed: Record<string, unknown>) =>
    kind &&
    onChange({
      settings: {
        ...instrument.settings,
        [kind.kind]: { ...instrument.settings[kind.kind], ...changed },
      },
    })
  const [link, setLink] = useState(instrument.link ?? '')
  const isLink = /^(?:\/|https?:\/\/|$)/.test(link)
  return (
    <Sheet
      open
      title={instrument.title ?? (there.map(signalTitle).join(', ') || 'Instrument')}
      onClose={onClose}
    >
      <div className="grid gap-4">
        <ChoiceField
          label="Drawn as"
          hint={kind?.purpose}
          value={instrument.kind}
          onChange={(event) => onChange({ kind: event.target.value })}
        >
          {!kind && <option value={instrument.kind}>{instrument.kind}</option>}
          {fitting.map(({ kind: of, name }) => (
            <option key={of} value={of}>
              {name}
            </option>
          ))}
        </ChoiceField>
        <ChoiceField
          label="Importance"
          value={instrument.importance}
          onChange={(event) => onChange({ importance: event.target.value as PlacedInstrument['importance'] })}
        >
          {importances.map((importance) => (
            <option key={importance} value={importance}>
              {importanceNames[importance]}
            </option>
          ))}
        </ChoiceField>
        {kind &&
          Object.entries(kind.settings).map(([name, setting]) => (
            <SettingField
              key={`${kind.kind} ${name}`}
              name={name}
              setting={setting}
              value={settings[name]}
              onChange={set}
            />
          ))}
        {kind?.kind === 'picture' && there.length > 0 && (
          <PinsSetting
            picture={String(settings.picture)}
            ratio={Number(settings.ratio)}
            names={there.map(signalTitle)}
            pins={settings.pins as []}
            onChange={(pins) => set({ pins })}
          />
        )}
        <TextField
          label="Title"
          placeholder={there.map(signalTitle).join(', ')}
          maxLength={80}
          value={instrument.title ?? ''}
          onChange={(event) => onChange({ title: event.target.value === '' ? null : event.target.value })}
        />
        {numeric?.unit && (
          <UnitField
            label="Seen in"
            hint="Empty for the unit that everybody sees it in."
            unit={instrument.unit ?? ''}
            allowed={({ code }) => numeric.unit !== null && between(numeric.unit, code) !== undefined}
            onChange={(unit) => onChange({ unit: unit === '' ? null : unit })}
          />
        )}
        <TextField
          label="Its title leads to"
          placeholder="the page of its device"
          hint="A page of this program, such as /dashboards/2, or an address."
          error={isLink ? undefined : 'Begin with / or with http:// or https://.'}
          value={link}
          onChange={({ target: { value } }) => {
            setLink(value)
            if (/^(?:\/|https?:\/\/)/.test(value)) onChange({ link: value })
            else if (value === '') onChange({ link: null })
          }}
        />
        <div className="grid gap-1.5">
          <p className="text-sm font-semibold">Shows</p>
          <ul className="grid gap-1">
            {signals.map((signal, place) => (
              <li key={signal?.id ?? `gone ${place}`} className="flex items-center gap-2 text-sm">
                <span className="flex-1 truncate">
                  {signal ? signalTitle(signal) : 'a signal that is gone'}
                </span>
                <Button
                  weight="quiet"
                  aria-label={`Take ${signal ? signalTitle(signal) : 'it'} away`}
                  onClick={() => onChange({ signals: instrument.signals.toSpliced(place, 1) })}
                >
                  Take away
                </Button>
              </li>
            ))}
          </ul>
          {(kind?.takes.most ?? 1) > signals.length && (
            <Button onClick={onAddSignals}>Add signals to it</Button>
          )}
        </div>
        <div className="flex justify-end">
          <Button weight="strong" onClick={onClose}>
            Done
          </Button>
        </div>
      </div>
    </Sheet>
  )
}
