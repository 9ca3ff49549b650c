import { type FilePlan, type Piece, readPieces } from './pieces.ts'

/** What the page says to the worker: begin, and after each piece go on. */
export type ImportRequest =
  | { readonly kind: 'begin'; readonly file: File; readonly plan: FilePlan }
  | { readonly kind: 'next' }

export type ImportAnswer =
  | { readonly kind: 'piece'; readonly piece: Piece }
  | { readonly kind: 'end' }
  | { readonly kind: 'failed'; readonly reason: string }

let pieces: AsyncGenerator<Piece> | undefined

const answer = (said: ImportAnswer) => postMessage(said)

addEventListener('message', async ({ data }: MessageEvent<ImportRequest>) => {
  if (data.kind === 'begin') pieces = readPieces(data.file, data.plan)
  try {
    const next = await pieces?.next()
    answer(next && !next.done ? { kind: 'piece', piece: next.value } : { kind: 'end' })
  } catch (error) {
    answer({ kind: 'failed', reason: error instanceof Error ? error.message : String(error) })
  }
})
