import type { Device, ExplainedField, Explanation } from '@jaunty-sparrow/contract'
import { fieldLabel } from '@jaunty-sparrow/core/message'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { Button } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { valueText } from '../../language/valueText.ts'
import { AdoptField } from '../../signals/AdoptField.tsx'
import { useChangeSignalDefinitionMutation } from '../../signals/signalsApi.ts'

interface ExplainedFieldsProps {
  readonly explanation: Explanation
  /** Whose message it is, as far as something can be put right from here. */
  readonly device: Device | undefined
}

/** How a message is understood, field by field: what was sent, which signal it goes to, and what it becomes there. */
export function ExplainedFields({ explanation, device }: ExplainedFieldsProps) {
  const { failure, fields, fieldsTotal } = explanation
  const isBacklog = fields.some(({ record }) => record > 0)
  const ofSeveral = new Set(fields.map(({ address }) => address)).size > 1
  if (failure) return <Notice tone="trouble" title={failure} />
  return (
    <div className="grid gap-2">
      <ul className="divide-y divide-rule border-y border-rule">
        {fields.map((field) => (
          <Row
            key={`${field.record}${field.pointer}`}
            field={field}
            isBacklog={isBacklog}
            ofSeveral={ofSeveral}
            device={device}
          />
        ))}
      </ul>
      {fieldsTotal > fields.length && (
        <p className="text-sm text-ink-soft">
          The first {fields.length} of {fieldsTotal} fields.
        </p>
      )}
    </div>
  )
}

interface RowProps {
  readonly field: ExplainedField
  readonly isBacklog: boolean
  /** Whether the records are of several devices, so that it has to be said of which. */
  readonly ofSeveral: boolean
  readonly device: Device | undefined
}

function Row({ field, isBacklog, ofSeveral, device }: RowProps) {
  const { pointer, raw, signal, reading, problem, record } = field
  return (
    <li className="grid gap-1 py-2 text-sm">
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <code className="font-mono text-[0.8125rem]">
          {isBacklog && <span className="text-ink-soft">{record + 1}: </span>}
          {ofSeveral && <span className="text-ink-soft">{field.address || 'nobody'} </span>}
          {fieldLabel(pointer)}
        </code>
        <code className="font-mono text-[0.8125rem] text-ink-soft">{raw}</code>
        <span aria-hidden="true" className="text-ink-soft">
          →
        </span>
        {problem === null && signal && reading && signal.state !== 'ignored' && (
          <span>
            {signal.name}: <strong>{valueText(reading.value, signal)}</strong>{' '}
            {signal.unit && unitSymbol(signal.unit)}
            {reading.quality === 1 && <span className="ml-2 font-semibold text-late">beyond range</span>}
          </span>
        )}
        {signal?.state === 'ignored' && <span className="text-ink-soft">{signal.name}, ignored</span>}
        {problem !== null && <span className="font-semibold text-trouble">not stored</span>}
        {signal?.state === 'suggested' && device && (
          <AdoptField device={device} field={pointer} kind={signal.kind} />
        )}
        {signal && signal.state !== 'accepted' && device && (
          <Accept definitionId={signal.definitionId} name={signal.name} />
        )}
      </div>
      {problem !== null && <p className="text-ink-soft">{problem}</p>}
    </li>
  )
}

function Accept({ definitionId, name }: { definitionId: number; name: string }) {
  const [change, { isLoading }] = useChangeSignalDefinitionMutation()
  return (
    <Button
      weight="quiet"
      className="-my-1.5"
      disabled={isLoading}
      onClick={() => void change({ definitionId, body: { state: 'accepted' } })}
    >
      Accept {name}
    </Button>
  )
}
