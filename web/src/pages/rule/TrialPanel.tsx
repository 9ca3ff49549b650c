import { formulaOf, pickedTerms, type Rule } from '@jaunty-sparrow/core/rule'
import { Trial, trialLayout } from '@jaunty-sparrow/drawings/trial'
import { useMemo } from 'react'
import { problemText } from '../../api/problemText.ts'
import { Notice } from '../../design/Notice.tsx'
import { useWidth } from '../../design/useWidth.ts'
import { useRuleTrialQuery } from '../../rules/rulesApi.ts'
import { comparisonWords, type NameOf, roughLength } from '../../rules/ruleWords.ts'
import { useTracesQuery } from '../../signals/signalsApi.ts'
import { BoundHandle } from './BoundHandle.tsx'
import { TrialHead } from './TrialHead.tsx'
import { boundId, trialRows } from './trialRows.ts'
import { useTrialSpan } from './useTrialSpan.ts'

/** The picture has as many columns. */
const columns = 900

interface TrialPanelProps {
  readonly signalId: number
  readonly ruleId: number | undefined
  readonly rule: Rule
  readonly timeZone: string
  readonly nameOf: NameOf
  readonly onChange: (rule: Rule) => void
}

/** What a rule would have done over the past, tried anew with every change of it. */
export function TrialPanel({ signalId, ruleId, rule, timeZone, nameOf, onChange }: TrialPanelProps) {
  const { span, choose, from, to, tried } = useTrialSpan(rule, 'week')
  const isComplete = rule.when !== null || rule.clock !== null
  const { data, error, isFetching } = useRuleTrialQuery(
    { signalId, rule: tried, from, to, ...(ruleId !== undefined && { ruleId }) },
    { skip: !isComplete },
  )
  const signals = rule.inputs.map(({ signal }) => signal)
  const { data: traces } = useTracesQuery(
    { signals, columns, view: useMemo(() => ({ from, to }), [from, to]) },
    { skip: signals.length === 0 },
  )
  const [place, width] = useWidth<HTMLDivElement>()
  const rows = useMemo(() => trialRows(rule, traces ?? [], nameOf), [rule, traces, nameOf])
  const layout = trialLayout({ width, rows })
  const putBound = (id: string, bound: number) => {
    const of = id.startsWith('when') ? 'when' : 'until'
    const condition = rule[of]
    const picked = condition && pickedTerms(condition.formula)
    if (!condition || !picked) return
    const terms = picked.terms.map((term, index) =>
      boundId({ of, term: index }) === id ? { ...term, bound } : term,
    )
    onChange({ ...rule, [of]: { ...condition, formula: formulaOf({ ...picked, terms }) } })
  }
  return (
    <section aria-labelledby="trial" className="grid content-start gap-3 self-start xl:sticky xl:top-28">
      <TrialHead span={span} onSpan={choose} />
      {!isComplete && (
        <p className="text-ink-soft">
          Say when it shall act, and here stands what it would have done: how often, how long, and against
          which other rule. Drag a bound, and see it change.
        </p>
      )}
      {error !== undefined && isComplete && <Notice tone="trouble" title={problemText(error)} />}
      {isComplete && data?.problem && <Notice tone="trouble" title={data.problem} />}
      {isComplete && data && data.problem === null && (
        <p role="status" className={`text-sm ${isFetching ? 'text-ink-soft' : ''}`} data-trial>
          <strong className="font-display text-2xl tabular-nums">{data.begins}</strong>{' '}
          {data.begins === 1 ? 'time' : 'times'}, <strong>{roughLength(data.seconds)}</strong> in all
          {data.begins > 1 && `, ${roughLength(data.longest)} at the longest`}
          {data.unknown > 0 && `; ${roughLength(data.unknown)} nobody would have known`}.{' '}
          {data.fightsInAll > 0 && <Fights fights={data.fights} count={data.fightsInAll} />}
        </p>
      )}
      <div ref={place} className="relative">
        {isComplete && width > 0 && (
          <>
            <svg
              width={width}
              height={layout.height}
              className="block"
              role="img"
              aria-label="What it would have done"
            >
              <Trial
                width={width}
                from={from}
                to={to}
                timeZone={timeZone}
                rows={rows}
                says="It would have acted"
                acting={data?.stretches.filter(({ isActing }) => isActing) ?? []}
                unknown={data?.stretches.filter(({ isUnknown }) => isUnknown) ?? []}
                overruled={data?.fights.filter(({ loser }) => loser === null) ?? []}
              />
            </svg>
            {rows.flatMap((row, index) =>
              row.bounds.map((bound, place) => {
                const at = layout.rows[index]
                const signal = nameOf(rule.inputs[index]?.signal ?? 0)
                return (
                  at && (
                    <BoundHandle
                      key={bound.id}
                      row={row}
                      bound={bound}
                      says={`${bound.id.startsWith('when') ? 'When' : 'Until'} ${signal?.name ?? ''} ${comparisonWords(bound.side === 'below' ? '<' : '>', bound.value, signal?.signal)}`}
                      top={at.top}
                      bottom={at.bottom}
                      at={at.handles[place] ?? at.top}
                      onChange={(value) => putBound(bound.id, value)}
                    />
                  )
                )
              }),
            )}
          </>
        )}
      </div>
    </section>
  )
}

interface FightsProps {
  readonly fights: readonly {
    readonly holder: string | null
    readonly loser: string | null
    readonly from: number
    readonly to: number
  }[]
  readonly count: number
}

/** Against which other rules it would have stood. */
function Fights({ fights, count }: FightsProps) {
  const others = [...new Set(fights.map(({ holder, loser }) => holder ?? loser))]
  const lost = fights
    .filter(({ loser }) => loser === null)
    .reduce((sum, { from, to }) => sum + (to - from) / 1000, 0)
  return (
    <>
      {count === 1 ? 'Once' : `${count} times`} it would have stood against{' '}
      {others.map((name) => `“${name}”`).join(', ')}
      {lost > 0 ? `, and not been obeyed for ${roughLength(lost)}` : ', and been obeyed'}.
    </>
  )
}
