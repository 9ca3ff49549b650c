import type { KeptDashboard } from '@jaunty-sparrow/contract'
import { DropdownMenu } from 'radix-ui'
import { lazy, Suspense, useRef, useState } from 'react'
import { MenuItem } from '../design/MenuItem.tsx'
import { menuItemLook, menuLook } from '../design/menuLook.ts'
import { saveFile } from '../design/saveFile.ts'
import { useChangePreferencesMutation } from '../people/peopleApi.ts'
import { useCreateDashboardMutation, useDeleteDashboardMutation } from './dashboardsApi.ts'

const ShareDashboard = lazy(async () => ({
  default: (await import('../share/ShareDashboard.tsx')).ShareDashboard,
}))

interface DashboardMenuProps {
  readonly dashboard: KeptDashboard
  readonly mayEdit: boolean
  readonly isOwner: boolean
  readonly onDeleted: () => void
  readonly onClose: () => void
}

/** What can be done with a dashboard; open from the start, as somebody asked for it. */
export function DashboardMenu({ dashboard, mayEdit, isOwner, onDeleted, onClose }: DashboardMenuProps) {
  const [change] = useChangePreferencesMutation()
  const [create] = useCreateDashboardMutation()
  const [remove] = useDeleteDashboardMutation()
  const [isSharing, setSharing] = useState(false)
  /** Whether what it leads to stays open when the menu goes. */
  const leadsOn = useRef(false)
  const [isSure, setSure] = useState(false)
  const { id, name, siteId, shows } = dashboard
  return (
    <>
      <DropdownMenu.Root defaultOpen onOpenChange={(isOpen) => !isOpen && !leadsOn.current && onClose()}>
        <DropdownMenu.Trigger aria-label="More" className="pointer-events-none -ml-4 size-1 opacity-0" />
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className={menuLook}>
            <MenuItem onSelect={() => void change({ home: `/dashboards/${id}` })}>
              Begin here when I come
            </MenuItem>
            <MenuItem onSelect={() => void change({ home: null })}>Begin at the sites when I come</MenuItem>
            {isOwner && (
              <MenuItem
                onSelect={() => {
                  leadsOn.current = true
                  setSharing(true)
                }}
              >
                Share by a link, as a picture or on paper
              </MenuItem>
            )}
            <MenuItem
              onSelect={() =>
                saveFile(
                  `${name}.dashboard.json`,
                  'application/json',
                  JSON.stringify({ name, ...shows }, null, 2),
                )
              }
            >
              Save as a file
            </MenuItem>
            <MenuItem
              onSelect={() =>
                void create({ siteId, name: `${name}, mine`, isMine: true, role: 'viewer', shows })
              }
            >
              A copy for me
            </MenuItem>
            {mayEdit && (
              <>
                <DropdownMenu.Separator className="my-1.5 h-px bg-rule" />
                <DropdownMenu.Item
                  className={`${menuItemLook} text-trouble`}
                  onSelect={(event) => {
                    if (!isSure) {
                      event.preventDefault()
                      return setSure(true)
                    }
                    void remove({ dashboardId: id })
                      .unwrap()
                      .then(onDeleted, () => undefined)
                  }}
                >
                  {isSure ? 'Yes, throw it away with all its versions' : 'Throw it away …'}
                </DropdownMenu.Item>
              </>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Suspense>{isSharing && <ShareDashboard dashboard={dashboard} onClose={onClose} />}</Suspense>
    </>
  )
}
