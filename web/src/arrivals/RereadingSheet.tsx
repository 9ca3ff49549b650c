import type { Device, Rereading, RereadSignal } from '@jaunty-sparrow/contract'
import { describeAge } from '@jaunty-sparrow/core/time'
import { ArrowRight } from 'lucide-react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { counted } from '../design/counted.ts'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { Skeleton } from '../design/Skeleton.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { valueText } from '../language/valueText.ts'
import { useNow } from '../time/clock.ts'
import {
  useCreateRereadingMutation,
  usePreviewRereadingQuery,
  useRereadingsQuery,
  useUndoRereadingMutation,
} from './arrivalsApi.ts'

/** Runs the kept messages of a device through again: shows what would change, does it, and undoes it. */
export function RereadingSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { address } = device
  const { data: shown, error, isFetching, refetch } = usePreviewRereadingQuery({ address })
  const { data: rereadings = [] } = useRereadingsQuery({ address })
  const [readAgain, applying] = useCreateRereadingMutation()
  const [undo, undoing] = useUndoRereadingMutation()
  const failure = error ?? applying.error ?? undoing.error
  const busy = isFetching || applying.isLoading || undoing.isLoading
  // Afterwards it is looked again what is left to do.
  const apply = async (upTo: number) => {
    await readAgain({ address, body: { upTo } }).unwrap()
    refetch()
  }
  const takeBack = async (rereadingId: number) => {
    await undo({ rereadingId }).unwrap()
    refetch()
  }
  return (
    <Sheet open wide onClose={onClose} title={`Read the messages of ${device.name} again`}>
      <div className="grid gap-4">
        <p className="text-sm text-ink-soft">
          Every kept message is read again by what the signals are now. Use it after a field was put right:
          the readings change in place, and it can be undone.
        </p>
        {failure && <Notice tone="trouble" title={problemText(failure)} />}
        {isFetching && <Skeleton className="h-24" />}
        {shown && !isFetching && (
          <>
            <p className="font-semibold" role="status">
              {shown.signals.length === 0
                ? `Nothing would change: all ${counted(shown.messages, 'message')} say what is stored.`
                : `This would change ${counted(total(shown.signals), 'reading')} of ${counted(shown.messages, 'message')}.`}
            </p>
            {shown.signals.length > 0 && <Changes device={device} signals={shown.signals} />}
          </>
        )}
        <Past rereadings={rereadings} busy={busy} onUndo={(id) => void takeBack(id).catch(() => undefined)} />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Close</Button>
          <Button
            weight="strong"
            disabled={busy || !shown || shown.signals.length === 0}
            onClick={() => shown && void apply(shown.upTo).catch(() => undefined)}
          >
            Read again
          </Button>
        </div>
      </div>
    </Sheet>
  )
}

function Changes({ device, signals }: { device: Device; signals: readonly RereadSignal[] }) {
  return (
    <ul className="divide-y divide-rule border-y border-rule text-sm">
      {signals.map(({ signalId, added, changed, removed, examples }) => {
        const signal = device.signals.find(({ id }) => id === signalId)
        const shape = signal ?? { kind: 'number', choices: [] }
        return (
          <li key={signalId} className="grid gap-1 py-2.5 sm:grid-cols-[12rem_1fr]">
            <span className="font-semibold">{signal?.name ?? 'A signal of another device'}</span>
            <span className="grid gap-1">
              <span>
                {[
                  [changed, 'changed'],
                  [added, 'added'],
                  [removed, 'removed'],
                ]
                  .filter(([number]) => number !== 0)
                  .map(([number, word]) => `${number} ${word}`)
                  .join(', ')}
              </span>
              <span className="flex flex-wrap gap-x-4 text-ink-soft">
                {examples.map(({ at, before, after }) => (
                  <span key={at} className="inline-flex items-center gap-1">
                    {clock.format(at)}: {before === null ? 'none' : valueText(before, shape)}
                    <ArrowRight aria-label="becomes" className="size-3.5" />
                    <strong className="text-ink">{after === null ? 'none' : valueText(after, shape)}</strong>
                  </span>
                ))}
              </span>
            </span>
          </li>
        )
      })}
    </ul>
  )
}

interface PastProps {
  readonly rereadings: readonly Rereading[]
  readonly busy: boolean
  readonly onUndo: (id: number) => void
}

function Past({ rereadings, busy, onUndo }: PastProps) {
  const now = useNow()
  if (rereadings.length === 0) return null
  return (
    <section className="grid gap-1 text-sm">
      <h3 className="text-base">Done before</h3>
      <ul className="divide-y divide-rule">
        {rereadings.map(({ id, added, changed, removed, createdAt, undoneAt }) => (
          <li key={id} className="flex flex-wrap items-center gap-x-3 py-1">
            <span className="flex-1">
              {describeAge(now - createdAt)}: {changed} changed, {added} added, {removed} removed
            </span>
            {undoneAt === null ? (
              <Button weight="quiet" disabled={busy} onClick={() => onUndo(id)}>
                Undo
              </Button>
            ) : (
              <span className="text-ink-soft">undone</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

const clock = dateFormat({
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
})
const total = (signals: readonly RereadSignal[]): number =>
  signals.reduce((sum, { added, changed, removed }) => sum + added + changed + removed, 0)
