import { Link } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { ConfirmClock, whyDoubtful } from '../../condition/ClockDoubt.tsx'
import { useConditionQuery } from '../../condition/conditionApi.ts'
import { counted } from '../../design/counted.ts'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { dateFormat } from '../../language/dateFormat.ts'
import { Part } from '../../settings/Part.tsx'

const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'medium' })

/** While somebody looks it is asked for this often, ms. */
const askEvery = 5000

/** How the server itself is doing: its ways in, its clock, what went wrong, and what it had to drop. */
export function ServerPage() {
  const { data, error } = useConditionQuery(undefined, { pollingInterval: askEvery })
  const { data: devices = [] } = useDevicesQuery()
  if (error) return <Notice tone="trouble" title={problemText(error)} />
  if (!data) return <Skeleton className="h-60" />
  const { server, startedAt, faults, clock, storage, dropped } = data
  return (
    <div className="grid gap-8">
      <header className="grid gap-1">
        <h1 className="text-3xl">This server</h1>
        <p className="text-ink-soft">
          {server}, running since {moment.format(startedAt)}
        </p>
      </header>
      <Part title="Its clock">
        {clock ? (
          <div className="grid justify-items-start gap-3">
            <p className="max-w-prose">
              <strong className="text-late">Not trusted.</strong> {whyDoubtful(clock)} Nothing that is kept is
              dropped meanwhile.
            </p>
            <ConfirmClock />
          </div>
        ) : (
          <p>Agrees with the database and with what it said before.</p>
        )}
      </Part>
      <Part title="What is kept">
        <p>
          The database takes {size(storage.databaseBytes)}
          {storage.freeBytes !== null && `; its disk has ${size(storage.freeBytes)} left`}.
        </p>
        <p className="text-ink-soft">
          Readings are kept for good, messages for {counted(storage.messageDays, 'day')} (MESSAGE_DAYS).{' '}
          <Link to="/budget" className="text-chestnut underline">
            What more devices would take
          </Link>
        </p>
      </Part>
      <Part title="What nobody foresaw">
        {faults.last ? (
          <div className="grid gap-1">
            <p>
              <strong className="text-trouble">{counted(faults.count, 'fault')}</strong> since the start. The
              server went on each time; each is a defect of the program, and its log says more.
            </p>
            <p className="text-ink-soft">
              The last one, {moment.format(faults.last.at)}, in {faults.last.where}: {faults.last.message}
            </p>
          </div>
        ) : (
          <p>Nothing went wrong that the program does not know how to answer.</p>
        )}
      </Part>
      <Part title="What was dropped">
        {dropped.length === 0 ? (
          <p>No message of any device, since the start.</p>
        ) : (
          <ul className="divide-y divide-rule border-y border-rule">
            {dropped.map(({ address, messages, lastAt, reason }) => (
              <li key={address} className="grid gap-x-4 gap-y-0.5 py-2 sm:grid-cols-[14rem_1fr]">
                <Link to={`/devices/${address}`} className="font-semibold text-chestnut underline">
                  {devices.find((device) => device.address === address)?.name ?? address}
                </Link>
                <span>
                  {counted(messages, 'message')}, the last one {moment.format(lastAt)}.{' '}
                  <span className="text-ink-soft">{reason}</span>
                </span>
              </li>
            ))}
          </ul>
        )}
      </Part>
    </div>
  )
}

/** Bytes as people say them; a gibibyte is 1024 mebibytes (IEC 80000-13). */
const size = (bytes: number): string => {
  const mebibytes = bytes / 1024 / 1024
  return mebibytes < 1000 ? `${Math.ceil(mebibytes)}\u00a0MiB` : `${(mebibytes / 1024).toFixed(1)}\u00a0GiB`
}
