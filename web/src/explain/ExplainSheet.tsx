import type { Signal, ValueExplanation } from '@jaunty-sparrow/contract'
import { hasQuality, Quality, shownDecimals, shownValue, signalTitle } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import type { ReactNode } from 'react'
import { problemText } from '../api/problemText.ts'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { Skeleton } from '../design/Skeleton.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { valueText } from '../language/valueText.ts'
import { useValueExplanationQuery } from './explainApi.ts'

interface ExplainSheetProps {
  readonly signal: Signal
  /** The instant whose value is explained, epoch ms. */
  readonly at: number
  readonly timeZone: string
  readonly onClose: () => void
}

/** Where a value comes from, step by step, back to the bytes of its message. */
export function ExplainSheet({ signal, at, timeZone, onClose }: ExplainSheetProps) {
  const { data, error } = useValueExplanationQuery({ signalId: signal.id, at })
  return (
    <Sheet open title={`Where ${signalTitle(signal)} comes from`} onClose={onClose} wide>
      {error ? <Notice tone="trouble" title={problemText(error)} /> : null}
      {data ? (
        <Steps told={data} signal={signal} timeZone={timeZone} />
      ) : (
        !error && <Skeleton className="h-64" />
      )}
    </Sheet>
  )
}

const marks = [
  [Quality.beyondRange, 'beyond the plausible range'],
  [Quality.tooFast, 'changed too fast'],
  [Quality.clockDoubted, 'its clock is doubted'],
  [Quality.atFault, 'at fault'],
  [Quality.markedBad, 'marked bad by a person'],
] as const

interface StepsProps {
  readonly told: ValueExplanation
  readonly signal: Signal
  readonly timeZone: string
}

function Steps({ told, signal, timeZone }: StepsProps) {
  const moment = dateFormat({ timeZone, dateStyle: 'medium', timeStyle: 'medium' })
  const inUnit = (value: ValueExplanation['stored'], decimals: number | null = null) =>
    `${valueText(value, signal, decimals ?? undefined)}${signal.unit ? ` ${unitSymbol(signal.unit)}` : ''}`
  const unit = signal.unit ? ` ${unitSymbol(signal.unit)}` : ''
  /** With all the digits it has. */
  const exactly = (value: ValueExplanation['stored']) =>
    signal.kind === 'number' ? `${String(value)}${unit}` : inUnit(value)
  const { shownAs } = signal
  const quality = marks.filter(([bit]) => hasQuality(told.quality, bit)).map(([, words]) => words)
  return (
    <dl className="grid gap-x-6 gap-y-3 text-sm sm:grid-cols-[9rem_1fr] [&_dt]:text-ink-soft">
      <Step name="Shown">
        <strong className="text-lg">
          {told.fault ??
            (shownAs && typeof told.shown === 'number'
              ? `${valueText(shownValue(told.shown, signal), signal, shownDecimals(signal.decimals, signal) ?? undefined)} ${unitSymbol(shownAs.unit)}`
              : inUnit(told.shown, signal.decimals))}
        </strong>
        {shownAs && !told.fault && (
          <p className="text-ink-soft">chosen to be seen so; measured {inUnit(told.shown)}</p>
        )}
      </Step>
      {told.calibration && (
        <Step name="Corrected">
          {inUnit(told.stored)} × {told.calibration.gain} + {told.calibration.offset} = {inUnit(told.shown)}
          <p className="text-ink-soft">
            since {moment.format(told.calibration.validFrom)}
            {told.calibration.person && ` by ${told.calibration.person}`}: {told.calibration.evidence}
          </p>
        </Step>
      )}
      <Step name="Stored">
        {told.fault ? `${told.raw ?? told.stored}, which means ${told.fault}` : exactly(told.stored)}
      </Step>
      {told.conversion !== null && (
        <Step name="Made by">
          <code className="font-mono break-words">{told.conversion}</code>
          <p className="text-ink-soft">
            {[{ name: 'x', value: told.raw ?? Number.NaN }, ...told.fields, ...told.constants]
              .map(({ name, value }) => `${name} = ${value}`)
              .join(', ')}
          </p>
        </Step>
      )}
      {told.derived && (
        <Step name="Follows from">
          <code className="font-mono break-words">{told.derived.formula}</code>
          <ul className="mt-1 grid gap-0.5">
            {told.derived.inputs.map(({ name, says, value, at }) => (
              <li key={name}>
                <code className="font-mono">
                  {name} = {value ?? 'nothing'}
                </code>
                <span className="text-ink-soft">
                  , {says}
                  {at !== null && `, measured ${moment.format(at)}`}
                </span>
              </li>
            ))}
            {told.constants.map(({ name, value }) => (
              <li key={name}>
                <code className="font-mono">
                  {name} = {value}
                </code>
                <span className="text-ink-soft">, a constant</span>
              </li>
            ))}
          </ul>
        </Step>
      )}
      {told.conversion !== null && <Step name="Sent">{told.raw}</Step>}
      {told.madeAnew && (
        <Step name="Made anew">
          {moment.format(told.madeAnew.at)}
          {told.madeAnew.person && ` by ${told.madeAnew.person}`}, of what was sent
        </Step>
      )}
      <Step name="Described">
        {told.said ? (
          <>
            {told.said.ofDevice ? 'for this device alone' : 'by its kit'}, since{' '}
            {moment.format(told.said.validFrom)}
            {told.said.person && ` by ${told.said.person}`}
            {told.said.field && (
              <>
                , read from <code className="font-mono">{told.said.field.slice(1).replaceAll('/', '.')}</code>
              </>
            )}
          </>
        ) : (
          'by nobody when it came in: it was taken as it was sent'
        )}
      </Step>
      <Step name="Measured">{moment.format(told.at)}</Step>
      <Step name="Came in">
        {moment.format(told.receivedAt)}
        {told.receivedAt - told.at > 1000 && `, ${Math.round((told.receivedAt - told.at) / 1000)} s later`}
      </Step>
      <Step name="Quality">{quality.length === 0 ? 'nothing is known against it' : quality.join(', ')}</Step>
      {signal.origin !== 'derived' && (
        <Step name="Message">
          {told.message ? (
            <>
              <p>
                {told.message.size} bytes over {told.message.door}
              </p>
              <pre className="mt-1 max-h-48 overflow-auto rounded-md bg-well p-2 font-mono text-xs whitespace-pre-wrap break-all">
                {told.message.beginning}
              </pre>
            </>
          ) : (
            'is not kept any more'
          )}
        </Step>
      )}
    </dl>
  )
}

const Step = ({ name, children }: { name: string; children: ReactNode }) => (
  <>
    <dt>{name}</dt>
    <dd className="min-w-0">{children}</dd>
  </>
)
