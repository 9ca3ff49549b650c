import setWith from 'lodash-es/setWith.js'
import { pointerSegments } from '../message/field.ts'
import { messageOf, type ProgramField } from './program.ts'

/** A text as C++ writes it. */
export const cppText = (text: string): string => JSON.stringify(text)

/** A name a variable can have, made of where a value stands: probes_1_temp. */
function variableName(path: readonly string[], taken: ReadonlySet<string>): string {
  const plain = path
    .join('_')
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
  const base = /^[A-Za-z]/.test(plain) ? plain : `value${plain === '' ? '' : `_${plain}`}`
  // Words of the language are no names, and none of them has an underscore at its end.
  let name = reserved.has(base) ? `${base}_` : base
  for (let next = 2; taken.has(name); next++) name = `${base}_${next}`
  return name
}

const reserved: ReadonlySet<string> = new Set(
  `auto bool break case char class const continue default delete do double else enum explicit extern false float for friend goto if
   inline int long namespace new operator out private protected public register return short signed sizeof static struct switch
   template this throw true try typedef union unsigned using virtual void volatile while F`.split(/\s+/),
)

/** Stands where what is controlled tells what it is, by its place in the table of those. */
class StateOf {
  readonly place: number

  constructor(place: number) {
    this.place = place
  }
}

interface Sketch {
  /** Declares what is to be filled in. */
  readonly declared: string[]
  /** Prints the message. */
  readonly printed: string[]
}

/**
 * Writes, in C++, the one place to fill in: variables for what the sensors say, and what prints them as an object of JSON whose end
 * is left open, so that a time can follow.
 * @param controlled what is controlled, told as the table of \`cppObeying\` has it
 * @param guards whether numbers are told to what guards by them
 */
export function cppMessage(
  fields: readonly ProgramField[],
  controlled: readonly ProgramField[] = [],
  guards = false,
): string {
  const sketch: Sketch = { declared: [], printed: [] }
  const taken = new Set<string>()
  let text = ''
  const flush = () => {
    if (text !== '') sketch.printed.push(`  out.print(F(${cppText(text)}));`)
    text = ''
  }
  const message = messageOf(fields)
  for (const [place, { pointer, kind }] of controlled.entries())
    if (kind !== 'momentary') setWith(message, pointerSegments(pointer), new StateOf(place), Object)
  const leaf = (path: readonly string[], value: unknown) => {
    if (value instanceof StateOf) {
      flush()
      sketch.printed.push(`  out.print(controlled[${value.place}].state);`)
      return
    }
    const name = variableName(path, taken)
    taken.add(name)
    flush()
    if (typeof value === 'boolean') {
      sketch.declared.push(`  bool ${name} = ${value};`)
      sketch.printed.push(`  out.print(${name} ? F("true") : F("false"));`)
    } else if (typeof value === 'string') {
      sketch.declared.push(`  const char* ${name} = ${cppText(value)};`)
      sketch.printed.push(`  printText(out, ${name});`)
    } else {
      sketch.declared.push(`  double ${name} = ${Number(value)};`)
      if (guards) sketch.printed.push(`  hears(${cppText(path.join('/'))}, ${name});`)
      sketch.printed.push(`  printNumber(out, ${name});`)
    }
  }
  const members = (path: readonly string[], object: Record<string, unknown>) => {
    for (const [place, [key, value]] of Object.entries(object).entries()) {
      text += `${place > 0 ? ',' : ''}${JSON.stringify(key)}:`
      if (typeof value === 'object' && value !== null && !(value instanceof StateOf)) {
        text += '{'
        members([...path, key], value as Record<string, unknown>)
        text += '}'
      } else leaf([...path, key], value)
    }
  }
  text = '{'
  members([], message)
  flush()
  return `// The one place to fill in: what the sensors say now.
void readSensors(Print& out) {
${sketch.declared.join('\n')}

${sketch.printed.join('\n')}
}`
}

/** What prints values as JSON, on any board. */
export const cppPrinting = `// A number as JSON writes it; what is none is said to be none.
inline void printNumber(Print& out, double value) {
  if (isnan(value) || isinf(value) || fabs(value) > 4e9) out.print(F("null"));
  else out.print(value, 3);
}

inline void printText(Print& out, const char* text) {
  out.print('"');
  for (; *text != 0; text++) {
    if (*text == '"' || *text == '\\\\') out.print('\\\\');
    if ((unsigned char)*text >= ' ') out.print(*text);
  }
  out.print('"');
}`
