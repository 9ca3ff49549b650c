import type { BodyOf, ResponseOf, routes } from '@jaunty-sparrow/contract'
import { rowRefusals } from '@jaunty-sparrow/core/file'
import type { ImportAnswer, ImportRequest } from './importWorker.ts'
import type { FilePlan, Piece } from './pieces.ts'

/** What has become of a file so far. */
export interface ImportResult {
  readonly share: number
  readonly stored: number
  readonly alreadyThere: number
  readonly refused: number
  /** The first of them, with the line in the file. */
  readonly reasons: readonly { readonly line: number; readonly reason: string }[]
}

export const nothingYet: ImportResult = { share: 0, stored: 0, alreadyThere: 0, refused: 0, reasons: [] }

const mostReasons = 100

type Upload = (body: BodyOf<typeof routes.importFile>) => Promise<ResponseOf<typeof routes.importFile>>

interface ImportRun {
  readonly file: File
  readonly plan: FilePlan
  readonly upload: Upload
  readonly progress: (result: ImportResult) => void
  readonly signal: AbortSignal
}

/**
 * Reads a file in a worker and sends it piece by piece; the next piece is read when the last one is stored.
 * @returns what came of it, as far as it got when it was cancelled
 * @throws when a piece could not be read or stored; what was stored before stays, and the same file can be brought again
 */
export async function runImport({ file, plan, upload, progress, signal }: ImportRun): Promise<ImportResult> {
  const worker = new Worker(new URL('./importWorker.ts', import.meta.url), { type: 'module' })
  let result = nothingYet
  try {
    let said = await ask(worker, { kind: 'begin', file, plan })
    while (said.kind === 'piece' && !signal.aborted) {
      result = await send(said.piece, plan, upload, result)
      progress(result)
      said = await ask(worker, { kind: 'next' })
    }
    if (said.kind === 'failed') throw new Error(said.reason)
    return result
  } finally {
    worker.terminate()
  }
}

const ask = (worker: Worker, request: ImportRequest): Promise<ImportAnswer> =>
  new Promise((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<ImportAnswer>) => resolve(data)
    worker.onerror = ({ message }) => reject(new Error(message || 'The file could not be read.'))
    worker.postMessage(request)
  })

async function send(
  { text, lines, refused, share }: Piece,
  { mediaType }: FilePlan,
  upload: Upload,
  before: ImportResult,
): Promise<ImportResult> {
  const answer =
    lines.length === 0
      ? { stored: 0, alreadyThere: 0, refused: [], refusedTotal: 0 }
      : await upload({ mediaType, text })
  const said = rowRefusals(answer.refused, lines)
  return {
    share,
    stored: before.stored + answer.stored,
    alreadyThere: before.alreadyThere + answer.alreadyThere,
    refused: before.refused + refused.length + answer.refusedTotal,
    reasons: [...before.reasons, ...[...refused, ...said].sort((a, b) => a.line - b.line)].slice(
      0,
      mostReasons,
    ),
  }
}
