import type { Device, Signal, StandingAlarm } from '@jaunty-sparrow/contract'
import { alarmAddressOf, readAlarmAddress } from '@jaunty-sparrow/core/alarm'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import isEqual from 'lodash-es/isEqual.js'
import { type FormEvent, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { AlarmSign } from '../../alarms/AlarmSign.tsx'
import { useAlarmQuery } from '../../alarms/alarmsApi.ts'
import { isWhat, saysOf, stateWords } from '../../alarms/alarmWords.ts'
import { problemText } from '../../api/problemText.ts'
import { HoldButton } from '../../commands/HoldButton.tsx'
import { Button } from '../../design/Button.tsx'
import { ChoiceField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { latestOf } from '../../live/useLive.ts'
import { Value } from '../../live/Value.tsx'
import { useMay } from '../../people/useMay.ts'
import { useChangeOwnSettingsMutation, useChangeSignalDefinitionMutation } from '../../signals/signalsApi.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { useSignalOf } from '../guard/useSignalOf.ts'
import { useNameOf } from '../rule/useNameOf.ts'
import { AlarmActs } from './AlarmActs.tsx'
import { AlarmFields } from './AlarmFields.tsx'
import { AlarmTexts } from './AlarmTexts.tsx'
import { AlarmTrialPanel } from './AlarmTrialPanel.tsx'
import { type AlarmDraft, keyFor, newAlarm } from './newAlarm.ts'

/** One alarm: what it is, how often it would have been raised, and what happened to it. */
export function AlarmPage() {
  const { alarmId, signalId } = useParams()
  const signalOf = useSignalOf()
  const { data: devices } = useDevicesQuery()
  const address = readAlarmAddress(alarmId ?? '')
  const { data: standing, error } = useAlarmQuery(alarmId ?? '', { skip: address === undefined })
  if (!devices || (address && !standing && !error)) return <Skeleton className="h-60" />
  const found = signalOf(address?.of === 'signal' ? address.signal : Number(signalId))
  if (!found || (alarmId !== undefined && !standing))
    return standing ? <BuiltIn standing={standing} /> : <NoAlarm problem={error} />
  return <AlarmView key={alarmId ?? 'new'} {...found} standing={standing} devices={devices} />
}

const NoAlarm = ({ problem }: { readonly problem: unknown }) => (
  <div className="grid justify-items-start gap-4 py-10">
    <h1 className="text-3xl">There is no such alarm</h1>
    <p className="text-ink-soft">
      {problem ? problemText(problem) : 'It may have been deleted, or the link may have a slip in it.'}
    </p>
    <Link to="/guard" className="font-semibold text-chestnut hover:underline">
      To all alarms
    </Link>
  </div>
)

/** One that nobody states: it comes with the program. */
const BuiltIn = ({ standing }: { readonly standing: StandingAlarm }) => (
  <div className="grid grid-cols-[minmax(0,1fr)] gap-6">
    <Head
      title={`${standing.subject}: ${isWhat(standing.alarm, undefined)}`}
      standing={standing}
      signal={undefined}
    />
    <AlarmTexts alarm={standing.alarm} />
    <AlarmActs alarmId={standing.id} signal={undefined} />
  </div>
)

interface HeadProps {
  readonly title: string
  readonly standing: StandingAlarm | undefined
  readonly signal: Signal | undefined
}

const Head = ({ title, standing, signal }: HeadProps) => (
  <header className="grid gap-1">
    <p className="text-sm">
      <Link to="/guard" className="text-ink-soft hover:text-chestnut hover:underline">
        Alarms
      </Link>
    </p>
    <h1 className="flex items-center gap-3 text-3xl">
      {standing && standing.state !== 'normal' && <AlarmSign alarm={standing} className="size-5" />}
      {title}
    </h1>
    {standing && (
      <p className="text-sm text-ink-soft" data-state={standing.state}>
        {[stateWords[standing.state], standing.state === 'normal' ? '' : saysOf(standing, signal)]
          .filter((part) => part !== '')
          .join(' · ')}
      </p>
    )}
  </header>
)

interface AlarmViewProps {
  readonly device: Device
  readonly signal: Signal
  readonly standing: StandingAlarm | undefined
  readonly devices: readonly Device[]
}

function AlarmView({ device, signal, standing, devices }: AlarmViewProps) {
  const navigate = useNavigate()
  const { data: sites } = useSitesQuery()
  const site = sites?.find(({ id }) => id === device.siteId)
  const isOwner = useMay('owner', device.siteId)
  const isOperator = useMay('operator', device.siteId)
  const nameOf = useNameOf(device.id)
  const said = latestOf(signal)?.value
  // As it stands with its signal: that is known anew as soon as it is saved.
  const stated: AlarmDraft | undefined = standing && {
    alarm: signal.alarms.find(({ key }) => key === standing.alarm.key) ?? standing.alarm,
    limits: signal.limits,
  }
  const [draft, setDraft] = useState(
    () => stated ?? newAlarm(signal, typeof said === 'number' ? said : undefined),
  )
  const [isOwn, setOwn] = useState(signal.own.includes('alarms') || signal.own.includes('limits'))
  const [change, changing] = useChangeSignalDefinitionMutation()
  const [changeOwn, changingOwn] = useChangeOwnSettingsMutation()
  const isChanged = !stated || !isEqual(draft, stated)
  const write = (alarms: Signal['alarms']) => {
    const settings = {
      alarms,
      ...(!isEqual(draft.limits, signal.limits) && { limits: draft.limits }),
    }
    return isOwn
      ? changeOwn({ signalId: signal.id, body: { set: settings } }).unwrap()
      : change({ definitionId: signal.definitionId, body: settings }).unwrap()
  }
  // It is told below.
  const ignore = () => undefined
  const others = signal.alarms.filter(({ key }) => key !== standing?.alarm.key)
  const save = (event: FormEvent) => {
    event.preventDefault()
    const key = standing?.alarm.key ?? keyFor(draft.alarm.occasion, signal.alarms)
    const alarm = { ...draft.alarm, key }
    const alarms = standing
      ? signal.alarms.map((each) => (each.key === key ? alarm : each))
      : [...signal.alarms, alarm]
    write(alarms).then(() => {
      if (!standing)
        void navigate(`/guard/${alarmAddressOf({ of: 'signal', signal: signal.id, key })}`, { replace: true })
    }, ignore)
  }
  const error = changing.error ?? changingOwn.error
  const isBusy = changing.isLoading || changingOwn.isLoading
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-6">
      <div className="grid gap-1">
        <Head
          title={standing ? `${signalTitle(signal)}: ${isWhat(standing.alarm, signal)}` : 'New alarm'}
          standing={standing}
          signal={signal}
        />
        <p className="text-sm text-ink-soft">
          of{' '}
          <Link
            to={`/devices/${device.address}`}
            className="font-semibold text-ink hover:text-chestnut hover:underline"
          >
            {signalTitle(signal)} of {device.name}
          </Link>
          , now <Value signal={signal} />
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 border-t border-ink pt-4 xl:grid-cols-[minmax(0,27rem)_minmax(0,1fr)]">
        {isOwner ? (
          <form onSubmit={save} className="grid content-start gap-6">
            {device.kit.name !== null && (
              <ChoiceField
                label="It is said"
                value={isOwn ? 'own' : 'kit'}
                onChange={({ target }) => setOwn(target.value === 'own')}
              >
                <option value="kit">for every device of the kit “{device.kit.name}”</option>
                <option value="own">for this device alone</option>
              </ChoiceField>
            )}
            <AlarmFields
              {...{ signal, device, draft, nameOf }}
              siteName={site?.name ?? ''}
              devices={devices.filter(({ siteId }) => siteId === device.siteId)}
              onChange={setDraft}
            />
            {error !== undefined && <Notice tone="trouble" title={problemText(error)} />}
            <div className="flex flex-wrap items-center gap-2">
              <Button type="submit" weight="strong" disabled={!isChanged || isBusy}>
                {standing ? 'Save' : 'Make the alarm'}
              </Button>
              {stated && isChanged && <Button onClick={() => setDraft(stated)}>As it was</Button>}
              {standing && (
                <HoldButton
                  disabled={isBusy}
                  onHeld={() => void write(others).then(() => navigate('/guard'), ignore)}
                >
                  Delete
                </HoldButton>
              )}
            </div>
          </form>
        ) : (
          standing && <AlarmTexts alarm={standing.alarm} />
        )}
        {isOperator && (
          <AlarmTrialPanel
            signal={signal}
            draft={draft}
            stated={stated}
            timeZone={site?.timeZone ?? 'UTC'}
            onChange={setDraft}
          />
        )}
      </div>
      {standing && <AlarmActs alarmId={standing.id} signal={signal} />}
    </div>
  )
}
