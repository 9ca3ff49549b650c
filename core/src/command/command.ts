import type { SignalValue } from '../signal/value.ts'

/** How far a command has come: the last four are its end. */
export const commandStates = ['requested', 'sent', 'confirmed', 'refused', 'expired', 'otherwise'] as const
export type CommandState = (typeof commandStates)[number]

export const isOpen = (state: CommandState): boolean => state === 'requested' || state === 'sent'

/** How far along a state is: a command never goes back from a later one, so what is told of it in another order can be put right. */
export const stage = (state: CommandState): number => (state === 'requested' ? 0 : state === 'sent' ? 1 : 2)

/** What is known of a command as it goes. Instants are epoch ms. */
export interface CommandLife {
  readonly state: CommandState
  readonly value: SignalValue
  readonly until: number
  readonly sentAt: number | null
  /** What the device reported since it was sent, where that was something else. */
  readonly reported: SignalValue | null
  /** Why it ended as it did; empty where that needs no words. */
  readonly answer: string
}

/** What a device answers to a command itself. */
export const answers = ['done', 'refused', 'expired'] as const
export type Answer = (typeof answers)[number]

/** What happens to a command. */
export type Happening =
  | { readonly kind: 'sent'; readonly at: number }
  /** A reading of its signal that came in, with when it was measured. */
  | { readonly kind: 'report'; readonly at: number; readonly value: SignalValue }
  | { readonly kind: 'answer'; readonly says: Answer; readonly why: string }
  /** Before it was sent somebody found that it must not be. */
  | { readonly kind: 'forbidden'; readonly why: string }
  /** Something else was asked of the same signal. */
  | { readonly kind: 'replaced' }
  | { readonly kind: 'time'; readonly at: number }

/**
 * A command after something happened to it. Only the device confirms it, by what it measured once it had been sent: a backlog
 * from before confirms nothing. What has ended stays as it ended.
 * @param step what values may differ by and still be the same
 */
export function after(life: CommandLife, happening: Happening, step: number | null = null): CommandLife {
  if (!isOpen(life.state)) return life
  switch (happening.kind) {
    case 'sent':
      // Sent again it is the same command: from the first time on the device may have obeyed.
      return { ...life, state: 'sent', sentAt: life.sentAt ?? happening.at }
    case 'report':
      if (life.sentAt === null || happening.at < life.sentAt) return life
      return isSame(happening.value, life.value, step)
        ? { ...life, state: 'confirmed', reported: null }
        : { ...life, reported: happening.value }
    case 'answer':
      return answered(life, happening)
    case 'forbidden':
      return { ...life, state: 'refused', answer: happening.why }
    case 'replaced':
      return { ...life, state: 'expired', answer: 'Something else was asked for.' }
    case 'time':
      if (happening.at <= life.until) return life
      if (life.reported !== null)
        return { ...life, state: 'otherwise', answer: 'The device reported something else.' }
      return {
        ...life,
        state: 'expired',
        answer:
          life.state === 'sent' ? 'The device did not report it in time.' : 'It could not be sent in time.',
      }
  }
}

function answered(life: CommandLife, { says, why }: Happening & { kind: 'answer' }): CommandLife {
  if (life.sentAt === null) return life
  if (says === 'done') return { ...life, state: 'confirmed', reported: null, answer: why }
  return {
    ...life,
    state: says,
    answer: why || (says === 'refused' ? 'The device refused it.' : 'The device got it too late.'),
  }
}

/** Whether a device that reports one value does what was asked for. */
export function isSame(reported: SignalValue, wanted: SignalValue, step: number | null): boolean {
  if (typeof reported !== 'number' || typeof wanted !== 'number')
    return JSON.stringify(reported) === JSON.stringify(wanted)
  return Math.abs(reported - wanted) <= (step ?? 0) / 2 + Math.abs(wanted) * 1e-6
}
