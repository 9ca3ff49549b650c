import type { Signal } from '@jaunty-sparrow/contract'
import { lengthWords } from '@jaunty-sparrow/core/time'
import { HoursOfDay, hoursHeight, Trial, trialLayout } from '@jaunty-sparrow/drawings/trial'
import isEqual from 'lodash-es/isEqual.js'
import { useId, useMemo } from 'react'
import { useAlarmTrialQuery } from '../../alarms/alarmsApi.ts'
import { problemText } from '../../api/problemText.ts'
import { Notice } from '../../design/Notice.tsx'
import { useWidth } from '../../design/useWidth.ts'
import { roughLength } from '../../rules/ruleWords.ts'
import { useTracesQuery } from '../../signals/signalsApi.ts'
import { BoundHandle } from '../rule/BoundHandle.tsx'
import { TrialHead } from '../rule/TrialHead.tsx'
import { useTrialSpan } from '../rule/useTrialSpan.ts'
import { alarmRow, returnsAt } from './alarmRow.ts'
import type { AlarmDraft } from './newAlarm.ts'

/** The picture has as many columns. */
const columns = 900
const noHours = Array.from({ length: 24 }, () => 0)
/** The delays that can be slid to, s. */
const delays = [0, 10, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200]

interface AlarmTrialPanelProps {
  readonly signal: Signal
  readonly draft: AlarmDraft
  /** As it is stated; undefined where it is new. */
  readonly stated: AlarmDraft | undefined
  readonly timeZone: string
  readonly onChange: (draft: AlarmDraft) => void
}

/** How often an alarm would have been raised over the past, tried anew with every change of it. */
export function AlarmTrialPanel({ signal, draft, stated, timeZone, onChange }: AlarmTrialPanelProps) {
  const { span, choose, from, to, tried } = useTrialSpan(draft, 'month')
  const asked = ({ alarm: { occasion, unless }, limits }: AlarmDraft) => ({
    signalId: signal.id,
    occasion,
    unless,
    limits,
    from,
    to,
  })
  const isIncomplete = draft.alarm.occasion.by === 'formula' && draft.alarm.occasion.formula === ''
  const { data, error, isFetching } = useAlarmTrialQuery(asked(tried), { skip: isIncomplete })
  const isOther = stated !== undefined && !isEqual(asked(stated), asked(draft))
  const { data: before } = useAlarmTrialQuery(asked(stated ?? draft), { skip: !isOther })
  const { data: traces } = useTracesQuery({
    signals: [signal.id],
    columns,
    view: useMemo(() => ({ from, to }), [from, to]),
  })
  const [place, width] = useWidth<HTMLDivElement>()
  const [hoursPlace, hoursWidth] = useWidth<HTMLDivElement>()
  const row = useMemo(() => alarmRow(draft, signal, traces?.[0]), [draft, signal, traces])
  const layout = trialLayout({ width, rows: [row] })
  const { limits, alarm } = draft
  const { occasion } = alarm
  const putBound = (id: string, value: number) => {
    if (occasion.by !== 'limit' || !limits) return
    const limit = limits[occasion.limit] ?? 0
    const isUpper = occasion.limit === 'high' || occasion.limit === 'highHigh'
    onChange({
      ...draft,
      limits:
        id === 'limit'
          ? { ...limits, [occasion.limit]: value }
          : { ...limits, deadband: Math.max(0, rounded(isUpper ? limit - value : value - limit)) },
    })
  }
  const at = layout.rows[0]
  return (
    <section aria-labelledby="trial" className="grid content-start gap-3 self-start xl:sticky xl:top-28">
      <TrialHead span={span} onSpan={choose} />
      {error !== undefined && <Notice tone="trouble" title={problemText(error)} />}
      {data?.problem && <Notice tone="trouble" title={data.problem} />}
      {data && data.problem === null && (
        <p role="status" className={`text-sm ${isFetching ? 'text-ink-soft' : ''}`} data-trial={data.count}>
          <strong className="font-display text-2xl tabular-nums">{data.count}</strong>{' '}
          {data.count === 1 ? 'alarm' : 'alarms'}
          {data.count > 0 && (
            <>
              , <strong>{roughLength(data.seconds)}</strong> in all
              {data.count > 1 && `, ${roughLength(data.longest)} at the longest`}
            </>
          )}
          {data.fleeting > 0 && `; ${data.fleeting} over within a minute`}
          {data.suppressed > 0 && `; ${roughLength(data.suppressed)} suppressed`}.
          {isOther && before && before.problem === null && (
            <>
              {' '}
              As it is stated now: <strong data-before>{before.count}</strong>.
            </>
          )}
        </p>
      )}
      <div ref={place} className="relative">
        {width > 0 && (
          <>
            <svg
              width={width}
              height={layout.height}
              className="block"
              role="img"
              aria-label="When it would have been raised"
            >
              <Trial
                width={width}
                from={from}
                to={to}
                timeZone={timeZone}
                rows={[row]}
                says="It would have been raised"
                acting={data?.stretches ?? []}
                unknown={[]}
                overruled={[]}
              />
            </svg>
            {at &&
              row.bounds.map((bound, index) => (
                <BoundHandle
                  key={bound.id}
                  row={row}
                  bound={bound}
                  says={bound.id === 'limit' ? 'Limit' : `Back at ${returnsAt(draft) ?? ''}`}
                  top={at.top}
                  bottom={at.bottom}
                  at={at.handles[index] ?? at.top}
                  onChange={(value) => putBound(bound.id, value)}
                />
              ))}
          </>
        )}
      </div>
      <DelaySlider draft={draft} onChange={onChange} />
      <div className="grid gap-1" ref={hoursPlace}>
        <h3 className="font-sans text-sm font-semibold">At what hours</h3>
        {hoursWidth > 0 && (
          <svg width={hoursWidth} height={hoursHeight} role="img" aria-label="At what hours of the day">
            <HoursOfDay hours={data?.hours ?? noHours} width={hoursWidth} />
          </svg>
        )}
      </div>
    </section>
  )
}

const rounded = (value: number): number => Number(value.toPrecision(6))

/** How long it has to be so, slid to. */
function DelaySlider({ draft, onChange }: Pick<AlarmTrialPanelProps, 'draft' | 'onChange'>) {
  const id = useId()
  const { alarm, limits } = draft
  const { occasion } = alarm
  const delay =
    occasion.by === 'limit' ? limits?.onDelay : 'atLeast' in occasion ? occasion.atLeast : undefined
  if (delay === undefined) return null
  const put = (seconds: number) =>
    onChange(
      occasion.by === 'limit' && limits
        ? { ...draft, limits: { ...limits, onDelay: seconds } }
        : { ...draft, alarm: { ...alarm, occasion: { ...occasion, atLeast: seconds } as typeof occasion } },
    )
  const stops = [...new Set([...delays, delay])].sort((a, b) => a - b)
  return (
    <div className="flex items-center gap-3 text-sm">
      <label htmlFor={id}>Only when it has been so for</label>
      <input
        id={id}
        type="range"
        min={0}
        max={stops.length - 1}
        value={stops.indexOf(delay)}
        aria-valuetext={delay === 0 ? 'no time' : lengthWords(delay)}
        className="min-w-24 flex-1 accent-chestnut"
        onChange={({ target }) => put(stops[Number(target.value)] ?? 0)}
      />
      <strong className="w-16 tabular-nums">{delay === 0 ? 'no time' : lengthWords(delay)}</strong>
    </div>
  )
}
