/** A body that was once too much for a parser, or could be: of a size that grows with `n`. */
export interface HostileBody {
  readonly name: string
  readonly mediaType: string
  readonly make: (n: number) => string | Uint8Array
}

const json = 'application/json'
const pairs = 'text/x.pairs'
const csv = 'text/csv'
const form = 'application/x-www-form-urlencoded'
const senml = 'application/senml+json'
const cbor = 'application/cbor'

/** What later fuzzing starts from: each of these has hurt, or is of the kind that does. */
export const hostileBodies: readonly HostileBody[] = [
  { name: 'arrays in arrays', mediaType: json, make: (n) => '['.repeat(n) },
  { name: 'objects in objects', mediaType: json, make: (n) => '{"a":'.repeat(n / 5) },
  { name: 'closed arrays in arrays', mediaType: json, make: (n) => '['.repeat(n / 2) + ']'.repeat(n / 2) },
  {
    name: 'quotes that are escaped',
    mediaType: json,
    make: (n) => `{"a": nan, "b": "${'\\"'.repeat(n / 2)}`,
  },
  { name: 'quotes that do not end', mediaType: json, make: (n) => `{"a": nan ${'"\\'.repeat(n / 2)}` },
  { name: 'commas', mediaType: json, make: (n) => `[${','.repeat(n)}` },
  { name: 'minus signs', mediaType: json, make: (n) => `{"a": ${'-'.repeat(n)}1}` },
  { name: 'digits', mediaType: json, make: (n) => `{"a": ${'1'.repeat(n)}}` },
  { name: 'digits and a letter', mediaType: json, make: (n) => `{"a": ${'1'.repeat(n)}x}` },
  {
    name: 'long numbers',
    mediaType: json,
    make: (n) => `[${'{"a":12345678901234567890},'.repeat(n / 27)}{"a":1}]`,
  },
  { name: 'almost not a number', mediaType: json, make: (n) => `{"a": ${'na'.repeat(n / 2)}}` },
  { name: 'a name and what is below it', mediaType: json, make: longNameAbove },
  { name: 'many names', mediaType: json, make: (n) => `{${fill(n, (i) => `"f${i}":1`)}}` },
  { name: 'many records', mediaType: json, make: (n) => `[${fill(n, (i) => `{"a":${i}}`)}]` },
  { name: 'a long time', mediaType: json, make: (n) => `{"a":1,"t":"2026-05-01T${'1'.repeat(n)}Z"}` },
  { name: 'a time of Ts', mediaType: json, make: (n) => `{"a":1,"t":"${'T'.repeat(n)}"}` },
  { name: 'a long text', mediaType: json, make: (n) => `{"a":"${'x'.repeat(n)}"}` },
  { name: 'half characters', mediaType: json, make: (n) => `{"${'\\ud800'.repeat(n / 6)}":1}` },
  { name: 'bare digits and a letter', mediaType: 'text/plain', make: (n) => `${'1'.repeat(n)}x` },
  { name: 'bare points', mediaType: 'text/plain', make: (n) => '.'.repeat(n) },
  { name: 'bare blanks', mediaType: 'text/plain', make: (n) => `${' '.repeat(n)}x` },
  { name: 'letters', mediaType: pairs, make: (n) => 'a'.repeat(n) },
  { name: 'words', mediaType: pairs, make: (n) => 'a '.repeat(n / 2) },
  { name: 'words far apart', mediaType: pairs, make: (n) => `a${' '.repeat(n)}b=1` },
  { name: 'equals signs', mediaType: pairs, make: (n) => '='.repeat(n) },
  { name: 'pairs of equals signs', mediaType: pairs, make: (n) => 'a='.repeat(n / 2) },
  { name: 'open quotes', mediaType: pairs, make: (n) => 'a="'.repeat(n / 3) },
  { name: 'full stops', mediaType: pairs, make: (n) => `${'.'.repeat(n)}=1` },
  { name: 'backslashes', mediaType: pairs, make: (n) => `${'\\'.repeat(n)}=1` },
  { name: 'decimal commas', mediaType: pairs, make: (n) => `a=1${',1'.repeat(n / 2)}` },
  { name: 'many pairs', mediaType: pairs, make: (n) => fill(n, (i) => `f${i}=1`, ' ') },
  { name: 'columns', mediaType: csv, make: (n) => `${'a,'.repeat(n / 4)}a\n${'1,'.repeat(n / 4)}1` },
  { name: 'rows', mediaType: csv, make: (n) => `t,a\n${fill(n, (i) => `${1777636800 + i},1`, '\n')}` },
  { name: 'quotes in cells', mediaType: csv, make: (n) => `a\n"${'""'.repeat(n / 2)}"` },
  { name: 'a quote that does not end', mediaType: csv, make: (n) => `a\n"${'x'.repeat(n)}` },
  { name: 'empty rows', mediaType: csv, make: (n) => `a\n${'\n'.repeat(n)}1` },
  { name: 'ampersands', mediaType: form, make: (n) => '&'.repeat(n) },
  { name: 'percent signs', mediaType: form, make: (n) => `a=${'%'.repeat(n)}` },
  { name: 'many fields', mediaType: form, make: (n) => fill(n, (i) => `f${i}=1`, '&') },
  { name: 'a long base name', mediaType: senml, make: longBaseName },
  { name: 'records of SenML', mediaType: senml, make: (n) => `[${fill(n, () => '{"n":"a","v":1}')}]` },
  { name: 'records that are guessed', mediaType: '', make: (n) => `[${fill(n, () => '{"n":"a","v":1}')}]` },
  { name: 'text that is guessed', mediaType: '', make: (n) => 'a'.repeat(n) },
  { name: 'blanks that are guessed', mediaType: '', make: (n) => `a${' '.repeat(n)}` },
  { name: 'separators that are guessed', mediaType: '', make: (n) => `${'a;'.repeat(n / 2)}\n1` },
  { name: 'arrays in arrays of CBOR', mediaType: cbor, make: (n) => new Uint8Array(n).fill(0x81) },
  { name: 'maps in maps of CBOR', mediaType: cbor, make: (n) => repeated(n, [0xa1, 0x61, 0x61]) },
  { name: 'tags in tags of CBOR', mediaType: cbor, make: (n) => new Uint8Array(n).fill(0xc1) },
  { name: 'a big number of CBOR', mediaType: cbor, make: bigNumber },
  {
    name: 'many entries of CBOR',
    mediaType: cbor,
    make: (n) =>
      Buffer.concat([Uint8Array.of(0x9f), repeated(n, [0xa1, 0x61, 0x61, 0x01]), Uint8Array.of(0xff)]),
  },
  {
    name: 'an array of CBOR that is said to be long',
    mediaType: cbor,
    make: () => Uint8Array.of(0x9b, 0, 0, 0, 0, 255, 255, 255, 255, 1),
  },
  {
    name: 'an endless text of CBOR',
    mediaType: cbor,
    make: (n) => Buffer.concat([Uint8Array.of(0xa1, 0x7f), repeated(n, [0x61, 0x61])]),
  },
]

/** As many entries as fit, divided. */
function fill(n: number, entry: (index: number) => string, divider = ','): string {
  const entries: string[] = []
  for (let length = 0; length < n; length += (entries.at(-1)?.length ?? 0) + 1)
    entries.push(entry(entries.length))
  return entries.join(divider)
}

function repeated(n: number, bytes: readonly number[]): Uint8Array {
  const all = new Uint8Array(n - (n % bytes.length))
  for (let index = 0; index < all.length; index++) all[index] = bytes[index % bytes.length] ?? 0
  return all
}

function longNameAbove(n: number): string {
  return `{"${'x'.repeat(n / 2)}": {${fill(n / 2, (i) => `"f${i}":1`)}}}`
}

function longBaseName(n: number): string {
  return `[{"bn":"${'x'.repeat(n / 2)}","n":"a","v":1},${fill(n / 2, () => '{"n":"a","v":1}')}]`
}

function bigNumber(n: number): Uint8Array {
  const bytes = new Uint8Array(n + 8).fill(0xff)
  bytes.set([0xa1, 0x61, 0x61, 0xc2, 0x5a])
  new DataView(bytes.buffer).setUint32(5, n - 1)
  return bytes
}
