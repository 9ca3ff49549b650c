import type { Device, Signal, StandingRule } from '@jaunty-sparrow/contract'
import type { Rule } from '@jaunty-sparrow/core/rule'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import isEqual from 'lodash-es/isEqual.js'
import { type FormEvent, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { HoldButton } from '../../commands/HoldButton.tsx'
import { Button, buttonLook } from '../../design/Button.tsx'
import { TextField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { Value } from '../../live/Value.tsx'
import { useMay } from '../../people/useMay.ts'
import { HoldWords } from '../../rules/HoldWords.tsx'
import { RuleModeSwitch } from '../../rules/RuleModeSwitch.tsx'
import {
  useChangeRuleMutation,
  useCreateRuleMutation,
  useDeleteRuleMutation,
  useRulesQuery,
} from '../../rules/rulesApi.ts'
import { ruleSentence } from '../../rules/ruleWords.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { newRule } from './newRule.ts'
import { RuleActs } from './RuleActs.tsx'
import { RuleFields } from './RuleFields.tsx'
import { TrialPanel } from './TrialPanel.tsx'
import { useNameOf } from './useNameOf.ts'

/** One rule: what it says, what it would have done, whether it is on, and what it did. */
export function RulePage() {
  const { ruleId, signalId } = useParams()
  const { data: rules, error, isFetching } = useRulesQuery()
  const { data: devices } = useDevicesQuery()
  if (error) return <Notice tone="trouble" title={problemText(error)} />
  if (!rules || !devices) return <Skeleton className="h-60" />
  const standing = rules.rules.find(({ id }) => id === Number(ruleId))
  // One that was made just now is on its way.
  if (ruleId !== undefined && !standing && isFetching) return <Skeleton className="h-60" />
  const wanted = standing?.signalId ?? Number(signalId)
  const device = devices.find(({ signals }) => signals.some(({ id }) => id === wanted))
  const signal = device?.signals.find(({ id }) => id === wanted)
  if (!device || signal?.origin !== 'controlled' || (ruleId !== undefined && !standing))
    return (
      <div className="grid justify-items-start gap-4 py-10">
        <h1 className="text-3xl">There is no such rule</h1>
        <p className="text-ink-soft">It may have been deleted, or the link may have a slip in it.</p>
        <Link to="/act" className={buttonLook('strong')}>
          To all rules
        </Link>
      </div>
    )
  return <RuleView key={standing?.id ?? 0} {...{ device, signal, standing, devices }} />
}

interface RuleViewProps {
  readonly device: Device
  readonly signal: Signal
  readonly standing: StandingRule | undefined
  readonly devices: readonly Device[]
}

function RuleView({ device, signal, standing, devices }: RuleViewProps) {
  const navigate = useNavigate()
  const { data: sites } = useSitesQuery()
  const { data: rules } = useRulesQuery()
  const site = sites?.find(({ id }) => id === device.siteId)
  const isOwner = useMay('owner', device.siteId)
  const isOperator = useMay('operator', device.siteId)
  const nameOf = useNameOf()
  const [rule, setRule] = useState<Rule>(() => standing?.rule ?? newRule(signal))
  const [name, setName] = useState(standing?.name ?? '')
  const [create, creating] = useCreateRuleMutation()
  const [change, changing] = useChangeRuleMutation()
  const [remove, removing] = useDeleteRuleMutation()
  const isChanged = !standing || name !== standing.name || !isEqual(rule, standing.rule)
  const isComplete = rule.when !== null || rule.clock !== null
  const save = (event: FormEvent) => {
    event.preventDefault()
    const body = { name: name.trim(), rule }
    if (standing) void change({ ruleId: standing.id, body })
    else
      create({ signalId: signal.id, body })
        .unwrap()
        .then(
          ({ id }) => navigate(`/rules/${id}`, { replace: true }),
          // It is told below.
          () => undefined,
        )
  }
  const error = creating.error ?? changing.error ?? removing.error
  const ofSite = devices.filter(({ siteId }) => siteId === device.siteId)
  const ofSignal = rules?.rules.filter(({ signalId }) => signalId === signal.id) ?? []
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-6">
      <header className="grid gap-2">
        <div className="flex flex-wrap items-center justify-between gap-3">
          <h1 className="text-3xl">{standing?.name ?? 'New rule'}</h1>
          {standing && <RuleModeSwitch rule={standing} signal={signal} />}
        </div>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <p className="text-sm text-ink-soft">
            for{' '}
            <Link
              to={`/devices/${device.address}`}
              className="font-semibold text-ink hover:text-chestnut hover:underline"
            >
              {signalTitle(signal)} of {device.name}
            </Link>
            , now <Value signal={signal} />
          </p>
          <HoldWords
            signal={signal}
            rules={ofSignal}
            hold={rules?.holds.find(({ signalId }) => signalId === signal.id)}
            canResume={isOperator}
          />
        </div>
      </header>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 border-t border-ink pt-4 xl:grid-cols-[minmax(0,27rem)_minmax(0,1fr)]">
        {isOwner ? (
          <form onSubmit={save} className="grid content-start gap-6">
            <RuleFields {...{ signal, site, rule, nameOf }} devices={ofSite} onChange={setRule} />
            <TextField
              label="Name of the rule"
              placeholder="Humidity low"
              required
              maxLength={60}
              value={name}
              onChange={({ target }) => setName(target.value)}
            />
            {isComplete && (
              <p className="border-l-2 border-rule-strong pl-3 text-sm" data-sentence>
                {signalTitle(signal)} of {device.name}: {ruleSentence(rule, signal, nameOf)}.
              </p>
            )}
            {error && <Notice tone="trouble" title={problemText(error)} />}
            <div className="flex flex-wrap items-center gap-2">
              <Button
                type="submit"
                weight="strong"
                disabled={!isChanged || !isComplete || creating.isLoading || changing.isLoading}
              >
                {standing ? 'Save' : 'Make the rule'}
              </Button>
              {standing && isChanged && (
                <Button
                  onClick={() => {
                    setRule(standing.rule)
                    setName(standing.name)
                  }}
                >
                  As it was
                </Button>
              )}
              {standing && (
                <HoldButton
                  disabled={removing.isLoading}
                  onHeld={() =>
                    void remove(standing.id)
                      .unwrap()
                      .then(
                        () => navigate('/act'),
                        () => undefined,
                      )
                  }
                >
                  Delete
                </HoldButton>
              )}
              {!standing && <p className="text-sm text-ink-soft">It is off until you switch it on.</p>}
              {standing && isChanged && standing.mode !== 'off' && (
                <p className="text-sm text-ink-soft">Until it is saved, the rule as it was goes on.</p>
              )}
            </div>
          </form>
        ) : (
          <p className="text-lg" data-sentence>
            {signalTitle(signal)} of {device.name}: {ruleSentence(rule, signal, nameOf)}.
          </p>
        )}
        {isOperator && (
          <TrialPanel
            signalId={signal.id}
            ruleId={standing?.id}
            rule={rule}
            timeZone={site?.timeZone ?? 'UTC'}
            nameOf={nameOf}
            onChange={setRule}
          />
        )}
      </div>
      {standing && <RuleActs ruleId={standing.id} nameOf={nameOf} />}
    </div>
  )
}
