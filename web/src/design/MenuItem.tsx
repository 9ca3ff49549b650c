import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import { menuItemLook } from './menuLook.ts'

/** Something that can be chosen out of a menu. */
export const MenuItem = ({
  onSelect,
  children,
}: {
  readonly onSelect: () => void
  readonly children: ReactNode
}) => (
  <DropdownMenu.Item className={menuItemLook} onSelect={onSelect}>
    {children}
  </DropdownMenu.Item>
)
