import type { Command, Signal } from '@jaunty-sparrow/contract'
import { isOpen } from '@jaunty-sparrow/core/command'
import { useMemo, useSyncExternalStore } from 'react'
import { useOpenCommandsQuery } from './commandsApi.ts'
import { liveCommands } from './liveCommands.ts'

/** What signals were asked for last, whatever came of it; the same on every page that looks. */
export function useCommands(signals: readonly Signal[]): ReadonlyMap<number, Command> {
  useOpenCommandsQuery(undefined, { skip: signals.length === 0 })
  const version = useSyncExternalStore(liveCommands.listen, liveCommands.version)
  return useMemo(
    () =>
      // It is another map whenever something is otherwise.
      version < 0
        ? new Map()
        : new Map(
            signals.flatMap(({ id }) => {
              const command = liveCommands.of(id)
              return command ? [[id, command] as const] : []
            }),
          ),
    [signals, version],
  )
}

type Wish = { readonly value: Command['value']; readonly state: 'requested' | 'sent' }

/** What signals are asked for, as long as it is open. */
export function useWishes(signals: readonly Signal[]): ReadonlyMap<number, Wish> {
  const commands = useCommands(signals)
  return useMemo(
    () =>
      new Map(
        [...commands].flatMap(([id, { value, state }]) =>
          isOpen(state) ? [[id, { value, state: state as Wish['state'] }] as const] : [],
        ),
      ),
    [commands],
  )
}
