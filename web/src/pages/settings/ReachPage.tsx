import type { Reach } from '@jaunty-sparrow/contract'
import type { ReactNode } from 'react'
import { QrCode } from '../../design/QrCode.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { dateFormat } from '../../language/dateFormat.ts'
import { ReachNotice } from '../../reach/ReachNotice.tsx'
import { useReachQuery } from '../../reach/reachApi.ts'
import { Part } from '../../settings/Part.tsx'

const day = dateFormat({ dateStyle: 'long' })

/** By which addresses boards and people reach the server, and how private that is. */
export function ReachPage() {
  const { data: reach } = useReachQuery()
  if (!reach) return <Skeleton className="h-60" />
  const { people, devices } = reach
  return (
    <div className="grid gap-8">
      <h1 className="text-3xl">Reach</h1>
      <ReachNotice />
      <Part title="People">
        <Address url={people.url} by={people.isStated ? 'as PUBLIC_URL says' : 'found from the network'} />
        {people.others.map((url) => (
          <Address key={url} url={url} by="also found" />
        ))}
        {!reach.isLocalOnly && <QrCode text={people.url} label="The address of the pages, to be scanned" />}
      </Part>
      <Part title="Devices">
        <dl className="grid grid-cols-[8rem_1fr] gap-y-1">
          <Row name="HTTP">
            <Code>{devices.url}/in</Code>
          </Row>
          <Row name="MQTT">{port(devices.host, devices.mqttPort)}</Row>
          <Row name="MQTT with TLS">{port(devices.host, devices.mqttTlsPort)}</Row>
          <Row name="CoAP">{port(devices.host, devices.coapPort)}</Row>
        </dl>
      </Part>
      <Part title="Private on the way">
        <Privacy reach={reach} />
      </Part>
    </div>
  )
}

function Privacy({ reach: { tls, people, plainSecrets } }: { reach: Reach }) {
  const isHttps = people.url.startsWith('https:')
  return (
    <div className="grid max-w-prose gap-3">
      {tls ? (
        <>
          <p>
            It has a certificate that holds until {day.format(tls.validUntil)}.
            {tls.isLocalAuthority &&
              ' A local authority signed it: each phone and computer has to be told once to trust that.'}
          </p>
          {tls.isLocalAuthority && (
            <>
              <QrCode text={authorityUrl(people.url)} label="What phones import, to be scanned" />
              <p>
                Scan it with the phone and install what comes, or{' '}
                <a href="/authority.crt" className="font-semibold text-chestnut underline">
                  take it here
                </a>
                . Boards pin the same file.
              </p>
            </>
          )}
          <p className="text-ink-soft">
            SHA-256 of the certificate:{' '}
            <code className="font-mono text-xs break-all select-all">{tls.fingerprint}</code>
          </p>
        </>
      ) : isHttps ? (
        <p>A proxy in front of it has the certificate.</p>
      ) : (
        <p>
          Nothing is encrypted between your network and this server. One command makes a certificate for the
          home network: <code className="font-mono select-all">npm run authority</code>. Until then browsers
          keep back what they keep for private pages: installing it on a phone (a bookmark on the home screen
          opens it as well), copying with a button (select the text instead), keeping the screen awake (the
          settings of a wall screen can), and notices pushed to a phone, for which there is no other way but
          the open page.
        </p>
      )}
      <p className="text-ink-soft">
        {plainSecrets
          ? 'Secrets and passwords may come from other machines without encryption; PLAIN_SECRETS=false forbids it.'
          : 'Secrets and passwords are not taken from other machines without encryption.'}
      </p>
    </div>
  )
}

/** A phone that does not trust it yet gets it over plain HTTP; what it holds is public. */
const authorityUrl = (origin: string): string => new URL('/authority.crt', origin).href

const Address = ({ url, by }: { url: string; by: string }) => (
  <p>
    <Code>{url}</Code> <span className="text-ink-soft">{by}</span>
  </p>
)
const Code = ({ children }: { children: ReactNode }) => (
  <code className="font-mono break-all select-all">{children}</code>
)
const Row = ({ name, children }: { name: string; children: ReactNode }) => (
  <>
    <dt className="text-ink-soft">{name}</dt>
    <dd>{children}</dd>
  </>
)
const port = (host: string, number: number | null): ReactNode =>
  number === null ? <span className="text-ink-soft">off</span> : <Code>{`${host}:${number}`}</Code>
