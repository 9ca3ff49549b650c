import type { Access, Member } from '@jaunty-sparrow/contract'
import { mayAt, type Role, roles } from '@jaunty-sparrow/core/access'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { CopyLine } from '../design/CopyLine.tsx'
import { ChoiceField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useReachQuery } from '../reach/reachApi.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { useChangeAccessMutation, useRemovePersonMutation, useSignInLinkForMutation } from './peopleApi.ts'
import { roleNames } from './roleWords.ts'
import { useAccess, useMay } from './useMay.ts'

const nothing = 'none'

/** What somebody may do at each site that is one's own, and everywhere. */
export function AccessSheet({ member, onClose }: { member: Member; onClose: () => void }) {
  const { data: sites = [] } = useSitesQuery()
  const { data: reach } = useReachQuery()
  const own = useAccess()
  const ownsAll = useMay('owner')
  const [access, setAccess] = useState<Access>(member.access)
  const [change, changing] = useChangeAccessMutation()
  const [remove, removing] = useRemovePersonMutation()
  const [makeLink, { data: link, error: linkError }] = useSignInLinkForMutation()
  const at = (siteId: number) => access.sites.find((role) => role.siteId === siteId)?.role ?? nothing
  const setAt = (siteId: number, role: string) =>
    setAccess({
      ...access,
      sites: [
        ...access.sites.filter((other) => other.siteId !== siteId),
        ...(role === nothing ? [] : [{ siteId, role: role as Role }]),
      ],
    })
  return (
    <SheetForm
      title={`What ${member.name} may do`}
      saveLabel="Save"
      busy={changing.isLoading}
      error={changing.error ?? removing.error ?? linkError}
      onSave={() => change({ personId: member.id, body: access }).unwrap()}
      onClose={onClose}
      aside={
        ownsAll && (
          <Button
            weight="danger"
            onClick={() =>
              void remove(member.id)
                .unwrap()
                .then(onClose, () => undefined)
            }
          >
            Remove
          </Button>
        )
      }
    >
      {ownsAll && (
        <ChoiceField
          label="At all sites"
          value={access.everywhere ?? nothing}
          onChange={({ target }) =>
            setAccess({ ...access, everywhere: target.value === nothing ? null : (target.value as Role) })
          }
        >
          <RoleOptions />
        </ChoiceField>
      )}
      {sites
        .filter(({ id }) => mayAt(own, 'owner', id))
        .map(({ id, name }) => (
          <ChoiceField
            key={id}
            label={ownsAll ? `More at ${name}` : name}
            value={at(id)}
            onChange={({ target }) => setAt(id, target.value)}
          >
            <RoleOptions />
          </ChoiceField>
        ))}
      {ownsAll && !link && (
        <p className="text-sm text-ink-soft">
          Has lost the password?{' '}
          <button
            type="button"
            className="font-semibold text-chestnut underline"
            onClick={() => void makeLink(member.id)}
          >
            Make a sign-in link
          </button>
        </p>
      )}
      {link && (
        <div className="grid gap-1.5 text-sm">
          <p>It signs {member.name} in once, within a day, and a new password can be chosen then.</p>
          <CopyLine
            text={`${reach?.people.url ?? window.location.origin}/sign-in/link#${link.token}`}
            label="sign-in link"
          />
        </div>
      )}
    </SheetForm>
  )
}

const RoleOptions = () => (
  <>
    <option value={nothing}>No role</option>
    {roles.map((role) => (
      <option key={role} value={role}>
        {roleNames[role]}
      </option>
    ))}
  </>
)
