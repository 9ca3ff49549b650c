import type { Role } from '@jaunty-sparrow/core/access'
import { mayAt, roles } from '@jaunty-sparrow/core/access'
import { CheckField, ChoiceField } from '../design/Field.tsx'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { roleMeans, roleNames } from './roleWords.ts'
import { useAccess, useMay } from './useMay.ts'

interface RoleAndSitesProps {
  readonly role: Role
  /** Null for all sites. */
  readonly siteIds: readonly number[] | null
  readonly onChange: (role: Role, siteIds: readonly number[] | null) => void
}

/** Chooses a role and where it holds, among the sites that are one's own to give. */
export function RoleAndSites({ role, siteIds, onChange }: RoleAndSitesProps) {
  const { data: sites = [] } = useSitesQuery()
  const access = useAccess()
  const ownsAll = useMay('owner')
  const own = sites.filter(({ id }) => mayAt(access, 'owner', id))
  return (
    <>
      <ChoiceField
        label="Role"
        hint={`${roleNames[role]}: ${roleMeans[role]}.`}
        value={role}
        onChange={({ target }) => onChange(target.value as Role, siteIds)}
      >
        {roles.map((name) => (
          <option key={name} value={name}>
            {roleNames[name]}
          </option>
        ))}
      </ChoiceField>
      <fieldset className="grid gap-1.5">
        <legend className="mb-1 text-sm font-semibold">Where</legend>
        {ownsAll && (
          <CheckField
            label="At all sites, also those that come later"
            checked={siteIds === null}
            onChange={({ target }) => onChange(role, target.checked ? null : own.map(({ id }) => id))}
          />
        )}
        {siteIds !== null &&
          own.map(({ id, name }) => (
            <CheckField
              key={id}
              label={name}
              checked={siteIds.includes(id)}
              onChange={({ target }) =>
                onChange(role, target.checked ? [...siteIds, id] : siteIds.filter((other) => other !== id))
              }
            />
          ))}
      </fieldset>
    </>
  )
}
