import { decode } from 'cborg'
import { cborOptions, cborValue, describeCborError } from './decodeCbor.ts'
import type { DecodeFailure, Decoder } from './decodeFailure.ts'
import { describeSyntaxError, parseTolerantly, rawValue } from './decodeJson.ts'
import { type Field, type FieldRecord, pointerSegment, type RawValue } from './field.ts'
import { ucumOfSenml } from './senmlUnits.ts'

/** The version of SenML that this reads; a higher one may mean things we do not know. */
const version = 10

/** Times below this, seconds, are relative to now (RFC 8428, section 4.5.3). */
const relativeBelow = 2 ** 28

/** Labels of the CBOR representation (RFC 8428, section 6, table 4). */
const cborLabels: ReadonlyMap<unknown, string> = new Map<unknown, string>([
  [-1, 'bver'],
  [-2, 'bn'],
  [-3, 'bt'],
  [-4, 'bu'],
  [-5, 'bv'],
  [-6, 'bs'],
  [0, 'n'],
  [1, 'u'],
  [2, 'v'],
  [3, 'vs'],
  [4, 'vb'],
  [5, 's'],
  [6, 't'],
  [7, 'ut'],
  [8, 'vd'],
])

type SenmlRecord = ReadonlyMap<string, RawValue>

/** Reads a SenML pack in JSON (RFC 8428, section 5). */
export const decodeSenmlJson: Decoder<string> = (text, receivedAt) => {
  let pack: unknown
  try {
    pack = parseTolerantly(text)
  } catch {
    return { failure: describeSyntaxError(text) }
  }
  if (!Array.isArray(pack) || !pack.every(isPlainObject)) return notAPack
  return resolve(
    pack.map((record) => new Map(Object.entries(record).map(([label, value]) => [label, rawValue(value)]))),
    receivedAt,
  )
}

/** Reads a SenML pack in CBOR (RFC 8428, section 6). */
export const decodeSenmlCbor: Decoder<Uint8Array> = (bytes, receivedAt) => {
  let pack: unknown
  try {
    pack = decode(bytes, { ...cborOptions, useMaps: true })
  } catch (error) {
    return { failure: describeCborError(error) }
  }
  if (!Array.isArray(pack) || !pack.every((record) => record instanceof Map)) return notAPack
  return resolve(
    pack.map((record: Map<unknown, unknown>) => {
      const labelled = [...record].map(([label, value]): [string, RawValue] => [
        cborLabels.get(label) ?? String(label),
        cborValue(value),
      ])
      return new Map(labelled)
    }),
    receivedAt,
  )
}

const notAPack: DecodeFailure = {
  failure: 'A SenML pack is an array of records, like [{"n": "temperature", "u": "Cel", "v": 21.5}].',
}

const isPlainObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Resolves base fields and relative times (RFC 8428, section 4.6): each record stands for itself afterwards. */
function resolve(pack: readonly SenmlRecord[], receivedAt: number): readonly FieldRecord[] | DecodeFailure {
  let base = { name: '', time: 0, unit: undefined as string | undefined, value: 0, sum: 0 }
  const records: FieldRecord[] = []
  for (const [index, record] of pack.entries()) {
    const where = `Record ${index + 1} of the SenML pack`
    const text = (label: string): string | undefined => {
      const value = record.get(label)
      return typeof value === 'string' ? value : undefined
    }
    const number = (label: string): number | undefined => {
      const value = record.get(label)
      return typeof value === 'number' && Number.isFinite(value) ? value : undefined
    }
    if ((number('bver') ?? version) > version)
      return { failure: `${where} is of version ${number('bver')}; this reads up to ${version}.` }
    const unread = [...record.keys()].find((label) => label.endsWith('_'))
    if (unread) return { failure: `${where} has the label "${unread}", which must be understood and is not.` }
    base = {
      name: text('bn') ?? base.name,
      time: number('bt') ?? base.time,
      unit: text('bu') ?? base.unit,
      value: number('bv') ?? base.value,
      sum: number('bs') ?? base.sum,
    }
    const field = readValue(record, base)
    if (!field) continue
    const name = base.name + (text('n') ?? '')
    if (!/^[A-Za-z0-9][A-Za-z0-9\-:._/]*$/.test(name)) {
      return {
        failure: `${where} has the name ${JSON.stringify(name)}; a name begins with a letter or digit and holds only letters, digits and - : . _ /`,
      }
    }
    const unit = text('u') ?? base.unit
    const time = base.time + (number('t') ?? 0)
    records.push({
      time: time < relativeBelow ? receivedAt + Math.round(time * 1000) : time,
      fields: [
        {
          pointer: pointerSegment(name) + field.tail,
          value: field.value,
          ...(unit !== undefined && { unit: ucumOfSenml(unit) }),
        },
      ],
    })
  }
  return records
}

/** The value of a record: one of the four kinds, or else its sum; a record of base fields only has none. */
function readValue(
  record: SenmlRecord,
  base: { readonly value: number; readonly sum: number },
): { readonly value: Field['value']; readonly tail: string } | undefined {
  const value = record.get('v')
  if (value !== undefined) return { value: typeof value === 'number' ? base.value + value : value, tail: '' }
  for (const label of ['vb', 'vs', 'vd']) {
    const other = record.get(label)
    if (other !== undefined) return { value: other, tail: '' }
  }
  const sum = record.get('s')
  if (typeof sum === 'number') return { value: base.sum + sum, tail: '/sum' }
  return record.has('bv') ? { value: base.value, tail: '' } : undefined
}
