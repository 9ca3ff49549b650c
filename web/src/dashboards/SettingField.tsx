import type { Setting } from '@jaunty-sparrow/drawings/instrument'
import { useId } from 'react'
import { CheckField, ChoiceField, TextField } from '../design/Field.tsx'
import { PictureSetting } from './PictureSetting.tsx'

interface SettingFieldProps {
  readonly name: string
  readonly setting: Setting
  readonly value: unknown
  /** Called with what differs: one setting may bring another along. */
  readonly onChange: (changed: Record<string, unknown>) => void
}

/** A field for one setting of an instrument, made of its schema. */
export function SettingField({ name, setting, value, onChange: change }: SettingFieldProps) {
  const id = useId()
  const onChange = (next: unknown) => change({ [name]: next })
  const { type, title, description, editor } = setting
  if (editor === 'none' || editor === 'pins') return null
  if (editor === 'picture')
    return (
      <PictureSetting
        title={title}
        value={String(value)}
        onChange={(picture, ratio) => change({ [name]: picture, ratio })}
      />
    )
  if (type === 'boolean')
    return (
      <CheckField
        label={title}
        hint={description}
        checked={value === true}
        onChange={(event) => onChange(event.target.checked)}
      />
    )
  if (Array.isArray(setting.enum))
    return (
      <ChoiceField
        label={title}
        hint={description}
        value={String(value)}
        onChange={(event) => onChange(event.target.value)}
      >
        {setting.enum.map((word: string) => (
          <option key={word} value={word}>
            {titlesOf(setting)[word] ?? word}
          </option>
        ))}
      </ChoiceField>
    )
  if (type === 'number')
    return (
      <TextField
        label={title}
        hint={description}
        type="number"
        step="any"
        value={String(value)}
        onChange={(event) => event.target.value !== '' && onChange(Number(event.target.value))}
      />
    )
  if (editor === 'lines')
    return (
      <div className="grid gap-1.5">
        <label htmlFor={id} className="text-sm font-semibold">
          {title}
        </label>
        <textarea
          id={id}
          rows={4}
          value={String(value)}
          maxLength={Number(setting.maxLength)}
          onChange={(event) => onChange(event.target.value)}
          className="rounded-md border border-rule-strong bg-sheet px-3 py-2 text-sm"
        />
        {description && <p className="text-sm text-ink-soft">{description}</p>}
      </div>
    )
  return (
    <TextField
      label={title}
      hint={description}
      value={String(value)}
      maxLength={Number(setting.maxLength)}
      onChange={(event) => onChange(event.target.value)}
    />
  )
}

const titlesOf = (setting: Setting): Readonly<Record<string, string>> =>
  (setting.titles as Readonly<Record<string, string>> | undefined) ?? {}
