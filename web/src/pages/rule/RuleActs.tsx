import type { RuleAct } from '@jaunty-sparrow/contract'
import { Link } from 'react-router'
import { commandValue } from '../../commands/commandWords.ts'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { dateFormat } from '../../language/dateFormat.ts'
import { useRuleActsQuery } from '../../rules/rulesApi.ts'
import type { NameOf } from '../../rules/ruleWords.ts'

const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'medium' })

const kindWords: Readonly<Record<RuleAct['kind'], string>> = {
  begins: 'began',
  ends: 'ended',
  unknown: 'did not know any more',
  known: 'knew again',
}
/** So far around a moment is looked at where somebody asks for it, ms. */
const around = 1_800_000

/** What a rule did, each with the values that caused it. */
export function RuleActs({ ruleId, nameOf }: { readonly ruleId: number; readonly nameOf: NameOf }) {
  const { data: acts } = useRuleActsQuery(ruleId)
  const { data: devices } = useDevicesQuery()
  const addressOf = (signalId: number) =>
    devices?.find(({ signals }) => signals.some(({ id }) => id === signalId))?.address
  return (
    <section aria-labelledby="acts" className="grid gap-2 border-t border-ink pt-3">
      <h2 id="acts" className="text-lg">
        What it did
      </h2>
      {acts?.length === 0 && (
        <p className="text-ink-soft">
          Nothing yet. Whatever it does stands here, with what its signals said then.
        </p>
      )}
      <ul className="divide-y divide-rule border-y border-rule text-sm empty:hidden">
        {acts?.map(({ id, at, kind, isTrial, because }) => (
          <li key={id} className="grid gap-x-4 gap-y-0.5 py-2 sm:grid-cols-[12rem_14rem_1fr]">
            <span className="text-ink-soft">{moment.format(at)}</span>
            <span className="font-semibold">
              {kindWords[kind]}
              {isTrial && <span className="font-normal text-ink-soft">, on trial</span>}
            </span>
            <span>
              {because.map(({ signalId, name, value, at: measuredAt }, place) => {
                const signal = nameOf(signalId)?.signal
                const address = addressOf(signalId)
                const says =
                  value === null || !signal
                    ? `${name} said nothing`
                    : `${name} ${commandValue({ value }, signal)}`
                const from = (measuredAt ?? at) - around
                return (
                  <span key={signalId}>
                    {place > 0 && ', '}
                    {address ? (
                      <Link
                        to={`/devices/${address}?from=${Math.round(from)}&to=${Math.round(from + 2 * around)}`}
                        className="hover:text-chestnut hover:underline"
                      >
                        {says}
                      </Link>
                    ) : (
                      says
                    )}
                  </span>
                )
              })}
              {because.length === 0 && 'by the clock'}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
