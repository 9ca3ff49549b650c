import { Check, ChevronsUpDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { menuItemLook, menuLook } from '../design/menuLook.ts'
import { useSessionQuery, useSignOutMutation } from '../people/peopleApi.ts'
import { type Theme, themes, useTheme } from './theme.ts'

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
        <DropdownMenu.Content align="end" sideOffset={6} className={menuLook}>
          <DropdownMenu.RadioGroup value={theme} onValueChange={(next) => setTheme(next as Theme)}>
            {themes.map((name) => (
              <DropdownMenu.RadioItem key={name} value={name} className={menuItemLook}>
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
          <DropdownMenu.Item className={`${menuItemLook} pl-8.5`} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
