import type { Signal } from '@jaunty-sparrow/contract'
import { Link } from 'react-router'
import { useMay } from '../people/useMay.ts'
import { HoldWords } from './HoldWords.tsx'
import { useRulesQuery } from './rulesApi.ts'

/** What holds a controlled signal: its rules in their order, or a hand; and the way to a new one. */
export function RulesOfSignal({ signal, siteId }: { readonly signal: Signal; readonly siteId: number }) {
  const { data } = useRulesQuery()
  const canMake = useMay('owner', siteId)
  const canResume = useMay('operator', siteId)
  const rules = data?.rules.filter(({ signalId }) => signalId === signal.id) ?? []
  const make = (
    <Link to={`/rules/new/${signal.id}`} className="text-sm font-semibold text-chestnut hover:underline">
      New rule
    </Link>
  )
  if (!data) return null
  if (rules.length === 0) return canMake ? make : null
  return (
    <div className="grid justify-items-start gap-1" data-rules={signal.id}>
      <HoldWords
        signal={signal}
        rules={rules}
        hold={data.holds.find(({ signalId }) => signalId === signal.id)}
        canResume={canResume}
      />
      <Link to={`/act#rules-${signal.id}`} className="text-sm font-semibold text-chestnut hover:underline">
        {rules.length === 1 ? 'Its rule' : `Its ${rules.length} rules`}
      </Link>
    </div>
  )
}
