import {
  type CsvSample,
  encodingOf,
  type SuggestedPlan,
  sampleCsv,
  suggestPlan,
} from '@jaunty-sparrow/core/file'
import { largestSenml } from './pieces.ts'

/** A file that was chosen, and what was found out about it before anything is sent. */
export type OpenedFile =
  | {
      readonly kind: 'csv'
      readonly file: File
      readonly encoding: string
      readonly sample: CsvSample
      readonly suggested: SuggestedPlan
    }
  | { readonly kind: 'senml'; readonly file: File; readonly beginning: string }

/** What is looked at to find out how the file is written, bytes. */
const sampleBytes = 64 * 1024

/**
 * Looks at the beginning of a file.
 * @throws with the reason in words when it is no file that can be read
 */
export async function openFile(
  file: File,
  signals: readonly { readonly field: string; readonly name: string }[],
  zone: string,
): Promise<OpenedFile> {
  if (file.size === 0) throw new Error(`${file.name} is empty.`)
  const bytes = await file.slice(0, sampleBytes).arrayBuffer()
  const encoding = encodingOf(new Uint8Array(bytes))
  const text = new TextDecoder(encoding).decode(bytes)
  if (text.includes('\0')) throw new Error(`${file.name} is no text: bring CSV, or SenML in JSON.`)
  if (/^\s*\[/.test(text)) {
    if (file.size > largestSenml)
      throw new Error(`${file.name} is larger than ${largestSenml / 1024 / 1024} MiB; bring it as CSV.`)
    return { kind: 'senml', file, beginning: text.slice(0, 2000) }
  }
  const sample = sampleCsv(text, file.size <= sampleBytes)
  if ('failure' in sample) throw new Error(sample.failure)
  return { kind: 'csv', file, encoding, sample, suggested: suggestPlan(sample, signals, zone) }
}
