import type { Reading } from '@jaunty-sparrow/core/signal'
import type pg from 'pg'
import type { Consumer } from '../afterCommit/consumers.ts'
import type { Commands } from '../commands/commands.ts'
import type { DeviceRegistry } from '../devices/deviceRegistry.ts'
import { AskHeld } from './askHeld.ts'
import { judgeCommitted } from './judgeCommitted.ts'
import { RuleBook } from './ruleBook.ts'
import { RuleInputs } from './ruleInputs.ts'
import { RuleTimers } from './ruleTimers.ts'

interface RulesParts {
  readonly pool: pg.Pool
  readonly registry: DeviceRegistry
  readonly commands: Pick<Commands, 'request'>
  readonly latest: { of(signal: number): Reading | undefined }
  readonly hub: { rulesChanged(): void }
  /** Epoch ms. */
  readonly now: () => number
}

/** All there is of rules, put together. */
export interface Rules {
  readonly book: RuleBook
  readonly inputs: RuleInputs
  /** Judges what is committed. */
  readonly judge: Consumer
  /** Lets time pass, and asks for what rules come to: after what was committed is judged. */
  readonly follow: () => Promise<void>
  /** Drops what rules did before an instant, epoch ms. */
  readonly forgetBefore: (instant: number) => Promise<void>
}

export function openRules(parts: RulesParts): Rules {
  const { pool, registry, hub, now } = parts
  let hasActed = false
  const acted = () => {
    hasActed = true
  }
  const inputs = new RuleInputs(registry)
  const timers = new RuleTimers({ pool, inputs, now, acted })
  const asks = new AskHeld({ ...parts, changed: acted })
  return {
    book: new RuleBook({ ...parts, inputs }),
    inputs,
    judge: judgeCommitted({ inputs, now, acted }),
    follow: async () => {
      await timers.run()
      await asks.run()
      if (hasActed) hub.rulesChanged()
      hasActed = false
    },
    forgetBefore: async (instant) => {
      await pool.query('delete from rule_act where at < to_timestamp($1::float8 / 1000)', [instant])
    },
  }
}
