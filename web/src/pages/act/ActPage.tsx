import type { Command, Device } from '@jaunty-sparrow/contract'
import { commandStates, isOpen } from '@jaunty-sparrow/core/command'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { AllAtOnce } from '../../commands/AllAtOnce.tsx'
import { useCommandsQuery } from '../../commands/commandsApi.ts'
import { commandValue, stateWords } from '../../commands/commandWords.ts'
import { Button } from '../../design/Button.tsx'
import { ChoiceField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { dateFormat } from '../../language/dateFormat.ts'
import { type SpanName, spans } from '../../signals/view.ts'
import { serverNow } from '../../time/clock.ts'
import { RuleList } from './RuleList.tsx'

const anything = ''
/** No person is called so: names have no blank at their ends. */
const byRules = ' rules '
/** So many are told at once. */
const longestPage = 500

const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'medium' })

/** What was commanded, by whom and what came of it; and several signals switched at once. */
export function ActPage() {
  const { data: devices = [] } = useDevicesQuery()
  const [deviceId, setDevice] = useState(anything)
  const [state, setState] = useState<Command['state'] | ''>(anything)
  const [by, setBy] = useState(anything)
  const [span, setSpan] = useState<SpanName | ''>(anything)
  const [since, setSince] = useState<number>()
  const [before, setBefore] = useState<number>()
  const names = useNames()
  const { data: commands, error } = useCommandsQuery({
    ...(by === byRules ? { byRules: true } : by !== anything && { person: by, byRules: false }),
    ...(since !== undefined && { from: since }),
    ...(deviceId !== anything && { deviceId: Number(deviceId) }),
    ...(state !== anything && { state }),
    ...(before !== undefined && { before }),
  })
  const controlled = devices.filter(({ signals }) => signals.some(isControlled))
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8">
      <h1 className="text-3xl">Act</h1>
      <AllAtOnce devices={controlled} />
      <RuleList devices={devices} />
      <section className="grid gap-4 border-t border-ink pt-3" aria-labelledby="commanded">
        <h2 id="commanded" className="text-lg">
          What was commanded
        </h2>
        <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
          <ChoiceField label="Device" value={deviceId} onChange={({ target }) => setDevice(target.value)}>
            <option value={anything}>Any</option>
            {controlled.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </ChoiceField>
          <ChoiceField label="By whom" value={by} onChange={({ target }) => setBy(target.value)}>
            <option value={anything}>Anybody</option>
            <option value={byRules}>Rules</option>
            {names.map((name) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </ChoiceField>
          <ChoiceField
            label="When"
            value={span}
            onChange={({ target }) => {
              const chosen = target.value as typeof span
              setSpan(chosen)
              setSince(chosen === anything ? undefined : Math.round(serverNow() - spans[chosen].length))
            }}
          >
            <option value={anything}>At any time</option>
            {(Object.keys(spans) as SpanName[]).map((name) => (
              <option key={name} value={name}>
                The last {name}
              </option>
            ))}
          </ChoiceField>
          <ChoiceField
            label="What came of it"
            value={state}
            onChange={({ target }) => setState(target.value as typeof state)}
          >
            <option value={anything}>Anything</option>
            {commandStates.map((each) => (
              <option key={each} value={each}>
                {stateWords[each]}
              </option>
            ))}
          </ChoiceField>
        </div>
        {error && <Notice tone="trouble" title={problemText(error)} />}
        {!commands && !error && <Skeleton className="h-40" />}
        {commands?.length === 0 && (
          <p className="text-ink-soft">
            Nothing yet. Whatever is switched or set, by hand or by a program, stands here with who asked for
            it and what the device made of it.
          </p>
        )}
        <ul className="divide-y divide-rule border-y border-rule text-sm empty:hidden">
          {commands?.map((command) => (
            <Item
              key={command.id}
              command={command}
              device={devices.find(({ id }) => id === command.deviceId)}
            />
          ))}
        </ul>
        <div className="flex gap-2 empty:hidden">
          {before !== undefined && <Button onClick={() => setBefore(undefined)}>The newest</Button>}
          {commands?.length === longestPage && (
            <Button onClick={() => setBefore(commands.at(-1)?.id)}>Older</Button>
          )}
        </div>
      </section>
    </div>
  )
}

/** Who asked for something lately, to be picked from. */
function useNames(): string[] {
  const { data } = useCommandsQuery({ byRules: false })
  return useMemo(() => [...new Set(data?.flatMap(({ person }) => person ?? []))].sort(), [data])
}

const isControlled = ({ origin, isFormer }: Device['signals'][number]) => origin === 'controlled' && !isFormer

function Item({ command, device }: { readonly command: Command; readonly device: Device | undefined }) {
  const signal = useMemo(
    () => device?.signals.find(({ id }) => id === command.signalId),
    [device, command.signalId],
  )
  const { state, requestedAt, person, token, rule, why, answer } = command
  return (
    <li className="grid gap-x-4 gap-y-0.5 py-2.5 sm:grid-cols-[11rem_1fr_auto]">
      <span className="text-ink-soft">{moment.format(requestedAt)}</span>
      <p className="min-w-0">
        {device && (
          <Link to={`/devices/${device.address}`} className="hover:text-chestnut hover:underline">
            {device.name}
          </Link>
        )}{' '}
        <strong>{signal ? `${signalTitle(signal)}: ${commandValue(command, signal)}` : ''}</strong>
        <span className="block text-ink-soft">
          {[person, token && `by “${token}”`, rule && `by the rule “${rule}”`, why]
            .filter(Boolean)
            .join(' · ')}
        </span>
      </p>
      <p className={`sm:text-right ${isOpen(state) ? 'font-semibold text-chestnut' : ''}`}>
        {stateWords[state]}
        {answer !== '' && <span className="block text-ink-soft">{answer}</span>}
      </p>
    </li>
  )
}
