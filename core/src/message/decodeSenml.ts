import { longest } from '../text/boundedText.ts'
import { ucumOfSenml } from '../units/senmlUnits.ts'
import { cborValue, parseCbor } from './decodeCbor.ts'
import type { DecodeFailure, Decoder } from './decodeFailure.ts'
import { describeSyntaxError, parseTolerantly, rawValueIn } from './decodeJson.ts'
import { type Field, type FieldRecord, pointerSegment, quoteRaw, type RawValue } from './field.ts'
import { readText } from './textValue.ts'

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
  const records = jsonRecords(pack, rawValueIn(text))
  return records ? resolve(records, receivedAt) : notAPack
}

/** Reads a SenML pack in CBOR (RFC 8428, section 6). */
export const decodeSenmlCbor: Decoder<Uint8Array> = (bytes, receivedAt) => {
  let pack: unknown
  try {
    pack = parseCbor(bytes)
  } catch (error) {
    return { failure: (error as Error).message }
  }
  const records = cborRecords(pack)
  return records ? resolve(records, receivedAt) : notAPack
}

function jsonRecords(pack: unknown, rawValue: (leaf: unknown) => RawValue): SenmlRecord[] | undefined {
  if (!Array.isArray(pack) || !pack.every(isPlainObject)) return undefined
  return pack.map(
    (record) => new Map(Object.entries(record).map(([label, value]) => [label, rawValue(value)])),
  )
}

function cborRecords(pack: unknown): SenmlRecord[] | undefined {
  if (!Array.isArray(pack) || !pack.every((record) => record instanceof Map)) return undefined
  return pack.map(
    (record: Map<unknown, unknown>) =>
      new Map(
        [...record].map(([label, value]) => [cborLabels.get(label) ?? String(label), cborValue(value)]),
      ),
  )
}

/** What each label holds (RFC 8428, section 4.1 and 4.2). */
const labelTypes: ReadonlyMap<string, 'string' | 'number' | 'boolean'> = new Map([
  ['bn', 'string'],
  ['bu', 'string'],
  ['n', 'string'],
  ['u', 'string'],
  ['vs', 'string'],
  ['vd', 'string'],
  ['bver', 'number'],
  ['bt', 'number'],
  ['bv', 'number'],
  ['bs', 'number'],
  ['v', 'number'],
  ['s', 'number'],
  ['t', 'number'],
  ['ut', 'number'],
  ['vb', 'boolean'],
])

/** Whether a document is a SenML pack through and through, and not an array of objects that happen to have a member `v`. */
function isPack(records: readonly SenmlRecord[] | undefined): boolean {
  let base = ''
  let values = 0
  for (const record of records ?? []) {
    for (const [label, value] of record) if (labelTypes.get(label) !== typeof value) return false
    const { bn, n } = Object.fromEntries(record)
    if (typeof bn === 'string') base = bn
    const held = ['v', 'vs', 'vb', 'vd'].filter((label) => record.has(label)).length
    if (held > 1) return false
    if (held === 0 && record.get('s') === undefined) continue
    values++
    if (nameProblem(base, typeof n === 'string' ? n : '')) return false
  }
  return values > 0
}

export const isSenmlJson = (document: unknown): boolean =>
  isPack(jsonRecords(document, (leaf) => leaf as RawValue))
export const isSenmlCbor = (document: unknown): boolean => isPack(cborRecords(document))

const validName = /^[A-Za-z0-9][A-Za-z0-9\-:._/]*$/

/** Looked at by their lengths first: a long base name would be written again for each record. */
function nameProblem(base: string, name: string): string | undefined {
  if (base.length + name.length > longest.field) return `a name longer than ${longest.field} characters`
  return validName.test(base + name)
    ? undefined
    : `the name ${JSON.stringify(base + name)}; a name begins with a letter or digit and holds only letters, digits and - : . _ /`
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
      const read = typeof value === 'string' ? readText(value) : value
      return typeof read === 'number' && Number.isFinite(read) ? read : undefined
    }
    const odd = ['bver', 'bt', 'bv', 'bs'].find((label) => record.has(label) && number(label) === undefined)
    if (odd)
      return {
        failure: `${where} has ${quoteRaw(record.get(odd) ?? null)} as "${odd}"; that must be a number.`,
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
    const own = text('n') ?? ''
    const problem = nameProblem(base.name, own)
    if (problem) return { failure: `${where} has ${problem}.` }
    const unit = text('u') ?? base.unit
    records.push({
      time: timeOf(record.get('t'), number('t'), base.time, receivedAt),
      fields: [
        {
          pointer: pointerSegment(base.name + own) + field.tail,
          value: field.value,
          ...(unit !== undefined && { unit: ucumOfSenml(unit) }),
        },
      ],
    })
  }
  return joinPlaces(records)
}

const placeName = /^(.*?)(lat|lon)$/

/** Latitude and longitude are records of their own in SenML; those of one place and time become one record, the other is left empty. */
function joinPlaces(records: FieldRecord[]): FieldRecord[] {
  const halves = new Map<string, number>()
  for (const [index, { time, fields }] of records.entries()) {
    const [field] = fields
    const [, place, half] = placeName.exec(field?.pointer ?? '') ?? []
    if (!field || place === undefined) continue
    const key = JSON.stringify([place, time])
    const first = halves.get(`${key} ${half === 'lat' ? 'lon' : 'lat'}`)
    if (first === undefined) halves.set(`${key} ${half}`, index)
    else {
      const joined = records[first]
      if (joined) records[first] = { ...joined, fields: [...joined.fields, field] }
      records[index] = { ...(time !== undefined && { time }), fields: [] }
      halves.delete(`${key} ${half === 'lat' ? 'lon' : 'lat'}`)
    }
  }
  return records
}

/** A time that is no number is left to be read as any other, or to be refused with its record. */
function timeOf(
  written: RawValue | undefined,
  seconds: number | undefined,
  base: number,
  receivedAt: number,
): RawValue {
  if (written !== undefined && seconds === undefined) return written
  const time = base + (seconds ?? 0)
  return time < relativeBelow ? receivedAt + Math.round(time * 1000) : time
}

/** The value of a record: one of the four kinds, or else its sum; a record of base fields only has none. */
function readValue(
  record: SenmlRecord,
  base: { readonly value: number; readonly sum: number },
): { readonly value: Field['value']; readonly tail: string } | undefined {
  const written = record.get('v')
  const value = typeof written === 'string' ? readText(written) : written
  if (value !== undefined) return { value: typeof value === 'number' ? base.value + value : value, tail: '' }
  for (const label of ['vb', 'vs', 'vd']) {
    const other = record.get(label)
    if (other !== undefined) return { value: other, tail: '' }
  }
  const sum = record.get('s')
  if (typeof sum === 'number') return { value: base.sum + sum, tail: '/sum' }
  return record.has('bv') ? { value: base.value, tail: '' } : undefined
}
