import { type Theme, themes } from '@jaunty-sparrow/contract'
import { Check } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { menuItemLook, menuLook } from '../design/menuLook.ts'
import { useChangePreferencesMutation, useSessionQuery, useSignOutMutation } from '../people/peopleApi.ts'

const themeNames: Record<Theme, string> = {
  system: 'Colours as the system has them',
  light: 'Light',
  dark: 'Dark',
}

/** The choice of light or dark, and the way out, hung on a button; open from the start, as somebody asked for it. */
export function PersonMenu({ children }: { children: ReactNode }) {
  const [signOut] = useSignOutMutation()
  const { data: session } = useSessionQuery()
  const [change] = useChangePreferencesMutation()
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger asChild>{children}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={6} className={menuLook}>
          <DropdownMenu.RadioGroup
            value={session?.state === 'signed-in' ? session.preferences.theme : 'system'}
            onValueChange={(next) => void change({ theme: next as Theme })}
          >
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
          <DropdownMenu.Item asChild className={`${menuItemLook} pl-8.5`}>
            <Link to="/settings">Settings</Link>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={`${menuItemLook} pl-8.5`} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
