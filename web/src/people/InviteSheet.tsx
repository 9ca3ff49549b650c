import type { Role } from '@jaunty-sparrow/core/access'
import { useState } from 'react'
import { CopyLine } from '../design/CopyLine.tsx'
import { TextField } from '../design/Field.tsx'
import { QrCode } from '../design/QrCode.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useReachQuery } from '../reach/reachApi.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { useInviteMutation } from './peopleApi.ts'
import { RoleAndSites } from './RoleAndSites.tsx'
import { useMay } from './useMay.ts'

/** Asks whom to let in, as what and where, and gives the link for it. */
export function InviteSheet({ onClose }: { onClose: () => void }) {
  const { data: reach } = useReachQuery()
  const { data: sites = [] } = useSitesQuery()
  const ownsAll = useMay('owner')
  const [note, setNote] = useState('')
  const [role, setRole] = useState<Role>('viewer')
  const [chosen, setChosen] = useState<readonly number[] | null>()
  const [invite, { data: link, isLoading, error }] = useInviteMutation()
  const siteIds = chosen === undefined ? (ownsAll ? null : sites.map(({ id }) => id)) : chosen
  if (link) {
    const url = `${reach?.people.url ?? window.location.origin}/invitation#${link.token}`
    return (
      <Sheet open onClose={onClose} title={`An invitation${note && ` for ${note}`}`}>
        <div className="grid gap-4">
          <p className="text-sm text-ink-soft">
            Whoever opens this link first comes in, once, within seven days. It is shown here and never again.
          </p>
          <CopyLine text={url} label="invitation link" />
          <QrCode text={url} label="The invitation, to be scanned" />
        </div>
      </Sheet>
    )
  }
  return (
    <SheetForm
      title="Invite somebody"
      saveLabel="Make the link"
      busy={isLoading || siteIds?.length === 0}
      error={error}
      keepOpen
      onSave={() => invite({ role, siteIds: siteIds && [...siteIds], ...(note && { note }) }).unwrap()}
      onClose={onClose}
    >
      <TextField
        label="Whom"
        hint="So that you know later whose this was."
        value={note}
        onChange={(event) => setNote(event.target.value)}
        maxLength={80}
        autoFocus
      />
      <RoleAndSites
        role={role}
        siteIds={siteIds}
        onChange={(next, where) => {
          setRole(next)
          setChosen(where)
        }}
      />
    </SheetForm>
  )
}
