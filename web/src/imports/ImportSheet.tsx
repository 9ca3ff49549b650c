import type { Device } from '@jaunty-sparrow/contract'
import type { CsvPlan } from '@jaunty-sparrow/core/file'
import { FileUp } from 'lucide-react'
import { type DragEvent, useEffect, useRef, useState } from 'react'
import { api } from '../api/api.ts'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { useAppDispatch } from '../store.ts'
import { CsvPreview } from './CsvPreview.tsx'
import { ImportProgress } from './ImportProgress.tsx'
import { useImportFileMutation } from './importsApi.ts'
import { type OpenedFile, openFile } from './openFile.ts'
import { type ImportResult, nothingYet, runImport } from './runImport.ts'

interface ImportSheetProps {
  readonly device: Device
  readonly timeZone: string
  /** A file that was dropped on the device already. */
  readonly dropped: File | undefined
  readonly onClose: () => void
}

type Stage = 'choosing' | 'running' | 'done' | 'cancelled'

/** Brings a file of past readings: shows how it will be read, then stores it piece by piece. */
export function ImportSheet({ device, timeZone, dropped, onClose }: ImportSheetProps) {
  const [opened, setOpened] = useState<OpenedFile>()
  const [plan, setPlan] = useState<CsvPlan>()
  const [stage, setStage] = useState<Stage>('choosing')
  const [result, setResult] = useState<ImportResult>(nothingYet)
  const [failure, setFailure] = useState<string>()
  const dispatch = useAppDispatch()
  const [upload] = useImportFileMutation()
  const cancelling = useRef(new AbortController())

  const open = async (file: File) => {
    setFailure(undefined)
    setOpened(undefined)
    setStage('choosing')
    try {
      const found = await openFile(file, device.signals, timeZone)
      setOpened(found)
      setPlan(found.kind === 'csv' ? found.suggested : undefined)
    } catch (error) {
      setFailure(textOf(error))
    }
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: a file that was dropped is opened once
  useEffect(() => {
    if (dropped) void open(dropped)
    return () => cancelling.current.abort()
  }, [dropped])

  const run = async (file: OpenedFile) => {
    cancelling.current = new AbortController()
    const { signal } = cancelling.current
    setFailure(undefined)
    setResult(nothingYet)
    setStage('running')
    try {
      await runImport({
        file: file.file,
        plan:
          file.kind === 'csv' && plan
            ? { mediaType: 'text/csv', encoding: file.encoding, csv: plan }
            : { mediaType: 'application/senml+json' },
        upload: (body) => upload({ address: device.address, body }).unwrap(),
        progress: setResult,
        signal,
      })
      setStage(signal.aborted ? 'cancelled' : 'done')
      dispatch(api.util.invalidateTags(['Devices', 'Traces']))
    } catch (error) {
      setFailure(`${textOf(error)} What was stored so far stays; the same file can be brought again.`)
      setStage('choosing')
    }
  }
  const ready = opened !== undefined && (opened.kind === 'senml' || isComplete(plan))
  return (
    <Sheet open wide onClose={onClose} title={`Bring a file to ${device.name}`}>
      <div className="grid gap-4">
        {stage === 'choosing' && <DropArea name={opened?.file.name} onFile={(file) => void open(file)} />}
        {failure && <Notice tone="trouble" title={failure} />}
        {stage === 'choosing' && opened?.kind === 'csv' && plan && (
          <CsvPreview
            device={device}
            sample={opened.sample}
            doubtfulTime={opened.suggested.doubtfulTime && plan === opened.suggested}
            plan={plan}
            onChange={setPlan}
          />
        )}
        {stage === 'choosing' && opened?.kind === 'senml' && (
          <div className="grid gap-2">
            <p className="text-sm text-ink-soft">
              A SenML pack: each record names its signal, time and unit itself. This is how it begins:
            </p>
            <pre className="max-h-56 overflow-auto rounded-md border border-rule bg-well p-3 text-[0.8125rem] whitespace-pre-wrap">
              {opened.beginning}
            </pre>
          </div>
        )}
        {stage !== 'choosing' && <ImportProgress stage={stage} result={result} />}
        <div className="flex justify-end gap-2">
          {stage === 'running' ? (
            <Button onClick={() => cancelling.current.abort()}>Cancel</Button>
          ) : (
            <Button onClick={onClose}>Close</Button>
          )}
          {stage === 'choosing' && (
            <Button weight="strong" disabled={!ready} onClick={() => opened && void run(opened)}>
              Store the readings
            </Button>
          )}
          {(stage === 'done' || stage === 'cancelled') && (
            <Button onClick={() => setStage('choosing')}>Back to the file</Button>
          )}
        </div>
      </div>
    </Sheet>
  )
}

const isComplete = (plan: CsvPlan | undefined): boolean =>
  plan !== undefined &&
  plan.timeColumns.length > 0 &&
  plan.fields.some((field) => field !== null) &&
  plan.fields.every((field, column) => field === null || plan.points[column] !== 'unclear')

const textOf = (error: unknown): string => (error instanceof Error ? error.message : problemText(error))

function DropArea({ name, onFile }: { name: string | undefined; onFile: (file: File) => void }) {
  const take = (event: DragEvent) => {
    event.preventDefault()
    event.stopPropagation()
    const [file] = event.dataTransfer.files
    if (file) onFile(file)
  }
  return (
    <label
      onDragOver={(event) => event.preventDefault()}
      onDrop={take}
      className={`grid cursor-pointer justify-items-center gap-1 rounded-lg border border-dashed border-rule-strong text-center hover:bg-well has-focus-visible:outline-2 ${name ? 'p-3' : 'p-8'}`}
    >
      <FileUp aria-hidden="true" className={`text-ink-soft ${name ? 'hidden' : 'size-6'}`} />
      <span className="font-semibold">{name ?? 'Drop a file here, or choose one'}</span>
      <span className="text-sm text-ink-soft">
        {name ? 'Choose another one' : 'CSV with a line of names, or SenML in JSON. Nothing is stored yet.'}
      </span>
      <input
        type="file"
        accept=".csv,.tsv,.txt,.json,.senml,text/csv,application/json"
        className="sr-only"
        onChange={({ target }) => {
          const [file] = target.files ?? []
          if (file) onFile(file)
        }}
      />
    </label>
  )
}
