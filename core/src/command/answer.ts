import { type Answer, answers } from './command.ts'

/** What a device answered: to which command, what, and the value it has now, where it says so. */
export interface ReadAnswer {
  readonly id: number | undefined
  readonly says: Answer | undefined
  readonly why: string
  readonly value: unknown
  /** Of which signal, where it says so itself: on a cable there is nothing else that does. */
  readonly signal: string | undefined
}

const longestWhy = 200

/**
 * Reads what a device said of a controlled signal: `{"id": 17, "says": "done", "value": true, "why": "…"}` with what it wants of
 * that, or the bare value.
 */
export function readAnswer(text: string): ReadAnswer {
  const said = parsed(text)
  if (typeof said !== 'object' || said === null || Array.isArray(said))
    return { id: undefined, says: undefined, why: '', value: said, signal: undefined }
  const { id, says, why, value, state } = said as Record<string, unknown>
  return {
    id: isNumberOfCommand(id) ? id : undefined,
    says: answers.find((each) => each === says),
    why: typeof why === 'string' ? why.slice(0, longestWhy) : '',
    value,
    signal: typeof state === 'string' ? state : undefined,
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    // A board that says "on" says it in letters.
    return text
  }
}

/** Commands are counted in 32 bits: no other number is one. */
const isNumberOfCommand = (id: unknown): id is number =>
  Number.isInteger(id) && (id as number) > 0 && (id as number) < 2 ** 31
