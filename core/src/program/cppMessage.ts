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

interface Sketch {
  /** Declares what is to be filled in. */
  readonly declared: string[]
  /** Prints the message. */
  readonly printed: string[]
}

/**
 * Writes, in C++, the one place to fill in: variables for what the sensors say, and what prints them as an object of JSON whose end
 * is left open, so that a time can follow.
 */
export function cppMessage(fields: readonly ProgramField[]): string {
  const sketch: Sketch = { declared: [], printed: [] }
  const taken = new Set<string>()
  let text = ''
  const flush = () => {
    if (text !== '') sketch.printed.push(`  out.print(F(${cppText(text)}));`)
    text = ''
  }
  const leaf = (path: readonly string[], value: unknown) => {
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
      sketch.printed.push(`  printNumber(out, ${name});`)
    }
  }
  const members = (path: readonly string[], object: Record<string, unknown>) => {
    for (const [place, [key, value]] of Object.entries(object).entries()) {
      text += `${place > 0 ? ',' : ''}${JSON.stringify(key)}:`
      if (typeof value === 'object' && value !== null) {
        text += '{'
        members([...path, key], value as Record<string, unknown>)
        text += '}'
      } else leaf([...path, key], value)
    }
  }
  text = '{'
  members([], messageOf(fields))
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
