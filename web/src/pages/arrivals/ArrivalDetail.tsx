import type { Arrival } from '@jaunty-sparrow/contract'
import { X } from 'lucide-react'
import { useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import { useArrivalQuery } from '../../arrivals/arrivalsApi.ts'
import { doorNames } from '../../arrivals/doorNames.ts'
import { MessageBody } from '../../arrivals/MessageBody.tsx'
import { Outcome } from '../../arrivals/Outcome.tsx'
import { RereadingSheet } from '../../arrivals/RereadingSheet.tsx'
import { GatewaySheet } from '../../claims/GatewaySheet.tsx'
import { Button } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { AllowanceSheet } from '../../devices/AllowanceSheet.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { dateFormat } from '../../language/dateFormat.ts'
import { useMay } from '../../people/useMay.ts'
import { ExplainedFields } from './ExplainedFields.tsx'

const exact = dateFormat({ dateStyle: 'medium', timeStyle: 'medium' })

/** One message: its bytes, what came of it then, and how it is understood now. */
export function ArrivalDetail({ arrival, onClose }: { arrival: Arrival; onClose: () => void }) {
  const { data: devices } = useDevicesQuery()
  const [allowing, setAllowing] = useState(false)
  const [readingAgain, setReadingAgain] = useState(false)
  const [raising, setRaising] = useState(false)
  const device = devices?.find(({ id }) => id === arrival.deviceId)
  const isOwner = useMay('owner', device?.siteId)
  // What it published to although it may not, so that it can be allowed from here.
  const wanted = arrival.outcome === 'refused' && arrival.topic !== '' ? arrival.topic : undefined
  const { data, error } = useArrivalQuery({ id: arrival.id, deviceId: arrival.deviceId })
  return (
    <section
      aria-label="The chosen message"
      className="grid content-start gap-4 rounded-lg border border-rule bg-sheet p-4 shadow-sheet"
    >
      <header className="flex items-start gap-3">
        <div className="grid flex-1 gap-1">
          <h2 className="text-lg">{arrival.sender || 'Nobody said who'}</h2>
          <p className="text-sm text-ink-soft">
            {[exact.format(arrival.receivedAt), doorNames[arrival.door], arrival.mediaType]
              .filter(Boolean)
              .join(' · ')}
            {(arrival.topic || arrival.tail) && ` · to ${arrival.topic || arrival.tail}`}
            {device && device.address !== arrival.sender && ` · for ${device.name}`}
          </p>
        </div>
        <span className="text-sm">
          <Outcome {...arrival} />
        </span>
        <button
          type="button"
          aria-label="Close"
          onClick={onClose}
          className="-m-1.5 rounded p-1.5 text-ink-soft hover:bg-well"
        >
          <X aria-hidden="true" className="size-5" />
        </button>
      </header>
      {arrival.reason && (
        <Notice
          tone={arrival.outcome === 'refused' ? 'trouble' : 'info'}
          title={`When it came: ${arrival.reason}`}
        >
          {arrival.outcome === 'throttled' && device && isOwner && (
            <Button className="mt-2" onClick={() => setRaising(true)}>
              Raise the allowance
            </Button>
          )}
          {wanted && device && isOwner && (
            <Button className="mt-2" onClick={() => setAllowing(true)}>
              Let it publish there
            </Button>
          )}
        </Notice>
      )}
      {allowing && device && wanted && (
        <GatewaySheet device={device} wanted={wanted} onClose={() => setAllowing(false)} />
      )}
      {readingAgain && device && <RereadingSheet device={device} onClose={() => setReadingAgain(false)} />}
      {raising && device && <AllowanceSheet device={device} onClose={() => setRaising(false)} />}
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {!data && !error && <Skeleton className="h-32" />}
      {data && (
        <>
          <MessageBody base64={data.body} fields={data.explanation?.fields ?? []} />
          {data.explanation && (
            <div className="grid gap-2">
              <h3 className="text-base">How it is understood now</h3>
              {isOwner && device && (
                <p className="text-sm text-ink-soft">
                  What is stored already follows when you{' '}
                  <button
                    type="button"
                    className="font-semibold text-chestnut underline"
                    onClick={() => setReadingAgain(true)}
                  >
                    read the kept messages again
                  </button>
                  .
                </p>
              )}
              <ExplainedFields explanation={data.explanation} device={isOwner ? device : undefined} />
            </div>
          )}
        </>
      )}
    </section>
  )
}
