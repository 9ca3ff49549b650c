import { pairsMediaType } from './decodePairs.ts'

/** What a message may say its format is, where it has no content type: the media types by short names. */
export const formats: ReadonlyMap<string, string> = new Map([
  ['json', 'application/json'],
  ['senml', 'application/senml+json'],
  ['senml-cbor', 'application/senml+cbor'],
  ['cbor', 'application/cbor'],
  ['form', 'application/x-www-form-urlencoded'],
  ['csv', 'text/csv'],
  ['pairs', pairsMediaType],
  ['text', 'text/plain'],
])
