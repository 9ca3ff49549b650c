import { Progress } from 'radix-ui'
import type { ImportResult } from './runImport.ts'

const whole = new Intl.NumberFormat('en-GB')

interface ImportProgressProps {
  readonly stage: 'running' | 'done' | 'cancelled'
  readonly result: ImportResult
}

/** How far a file has come, and what became of it. */
export function ImportProgress({ stage, result }: ImportProgressProps) {
  const { share, stored, alreadyThere, refused, reasons } = result
  const percent = Math.floor(share * 100)
  return (
    <div className="grid gap-3">
      <Progress.Root
        value={percent}
        aria-label="How much of the file is stored"
        className="h-2 overflow-hidden rounded-full bg-well"
      >
        <Progress.Indicator
          className="h-full origin-left bg-chestnut transition-transform"
          style={{ transform: `scaleX(${share})` }}
        />
      </Progress.Root>
      <p role="status" className="font-semibold">
        {stage === 'running' && `${percent} % of the file`}
        {stage === 'done' && 'The whole file is stored.'}
        {stage === 'cancelled' && `Cancelled at ${percent} %. What was stored so far stays.`}
      </p>
      <dl className="grid gap-4 border-y border-rule py-3 sm:grid-cols-3">
        <Count name="readings stored" value={stored} />
        <Count name="were there already" value={alreadyThere} />
        <Count name="refused" value={refused} trouble={refused > 0} />
      </dl>
      {reasons.length > 0 && (
        <div className="grid gap-1 text-sm">
          <h3 className="text-base">Why something was refused</h3>
          <ul className="max-h-48 divide-y divide-rule overflow-auto" aria-label="Refused lines">
            {reasons.map(({ line, reason }, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the list only grows at its end
              <li key={index} className="grid grid-cols-[6rem_1fr] py-1">
                <span className="text-ink-soft">line {whole.format(line)}</span>
                <span>{reason}</span>
              </li>
            ))}
          </ul>
          {refused > reasons.length && <p className="text-ink-soft">The first {reasons.length} are shown.</p>}
        </div>
      )}
    </div>
  )
}

const Count = ({ name, value, trouble = false }: { name: string; value: number; trouble?: boolean }) => (
  <div className="grid">
    <dd className={`font-display text-2xl ${trouble ? 'text-trouble' : ''}`}>{whole.format(value)}</dd>
    <dt className="text-sm text-ink-soft">{name}</dt>
  </div>
)
