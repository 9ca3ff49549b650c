import { Check, ChevronsUpDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useSessionQuery, useSignOutMutation } from '../api/hooks.ts'
import { type Theme, themes, useTheme } from './theme.ts'

const item =
  'flex cursor-pointer items-center gap-2 rounded px-2.5 py-1.5 text-sm outline-none data-highlighted:bg-well'

const themeNames: Record<Theme, string> = {
  system: 'Colours as the system has them',
  light: 'Light',
  dark: 'Dark',
}

/** Who is signed in, the choice of light or dark, and the way out. */
export function PersonMenu() {
  const { data: session } = useSessionQuery()
  const [signOut] = useSignOutMutation()
  const [theme, setTheme] = useTheme()
  if (session?.state !== 'signed-in') return null
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm text-ink-soft hover:bg-well hover:text-ink">
        {session.person.name}
        <ChevronsUpDown aria-hidden="true" className="size-3.5" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-50 min-w-60 rounded-lg border border-rule bg-sheet p-1.5 text-ink shadow-xl"
        >
          <DropdownMenu.RadioGroup value={theme} onValueChange={(next) => setTheme(next as Theme)}>
            {themes.map((name) => (
              <DropdownMenu.RadioItem key={name} value={name} className={item}>
                <span className="size-4">
                  <DropdownMenu.ItemIndicator>
                    <Check aria-hidden="true" className="size-4" />
                  </DropdownMenu.ItemIndicator>
                </span>
                {themeNames[name]}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Separator className="my-1.5 h-px bg-rule" />
          <DropdownMenu.Item className={`${item} pl-8.5`} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
