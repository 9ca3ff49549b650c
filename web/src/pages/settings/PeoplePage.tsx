import type { Member } from '@jaunty-sparrow/contract'
import { type Role, roles } from '@jaunty-sparrow/core/access'
import { describeAge } from '@jaunty-sparrow/core/time'
import { UserPlus } from 'lucide-react'
import { useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import { Button } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { AccessSheet } from '../../people/AccessSheet.tsx'
import { InviteSheet } from '../../people/InviteSheet.tsx'
import { useInvitationsQuery, usePeopleQuery, useWithdrawInvitationMutation } from '../../people/peopleApi.ts'
import { roleMeans, roleNames } from '../../people/roleWords.ts'
import { Part } from '../../settings/Part.tsx'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { useNow } from '../../time/clock.ts'

/** Who may do what, and who is invited. */
export function PeoplePage() {
  const { data: people = [], error } = usePeopleQuery()
  const { data: invitations = [] } = useInvitationsQuery()
  const { data: sites = [] } = useSitesQuery()
  const [withdraw] = useWithdrawInvitationMutation()
  const [inviting, setInviting] = useState(false)
  const [changing, setChanging] = useState<Member>()
  const now = useNow()
  const named = (ids: readonly number[] | null) =>
    ids === null
      ? 'all sites'
      : ids.map((id) => sites.find((site) => site.id === id)?.name ?? 'a site that is gone').join(', ')
  return (
    <div className="grid gap-8">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="flex-1 text-3xl">People</h1>
        <Button weight="strong" onClick={() => setInviting(true)}>
          <UserPlus aria-hidden="true" className="size-4" />
          Invite somebody
        </Button>
      </header>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      <ul className="divide-y divide-rule border-y border-rule">
        {people.map((member) => (
          <li key={member.id} className="flex min-h-14 flex-wrap items-center gap-x-4 py-2">
            <span className="min-w-40 flex-1">
              <strong className="font-display text-base">{member.name}</strong>
              <span className="block text-sm text-ink-soft">
                {member.seenAt === null
                  ? 'not here yet'
                  : `here ${describeAge(Math.max(0, now - member.seenAt))}`}
              </span>
            </span>
            <span className="text-sm">
              {describeRoles(member, named).map((line) => (
                <span key={line} className="block">
                  {line}
                </span>
              ))}
            </span>
            <Button weight="quiet" aria-label={`Change ${member.name}`} onClick={() => setChanging(member)}>
              Change
            </Button>
          </li>
        ))}
      </ul>
      {invitations.length > 0 && (
        <Part title="Invited">
          <ul className="divide-y divide-rule border-y border-rule">
            {invitations.map(({ id, note, role, siteIds, by, expiresAt }) => (
              <li key={id} className="flex min-h-12 flex-wrap items-center gap-x-4 py-1.5">
                <span className="flex-1">
                  {note || 'Somebody'}, as {role} at {named(siteIds)}
                  <span className="block text-ink-soft">
                    {by && `by ${by}, `}for another {Math.max(1, Math.round((expiresAt - now) / 86_400_000))}{' '}
                    days
                  </span>
                </span>
                <Button weight="quiet" onClick={() => void withdraw(id)}>
                  Take back
                </Button>
              </li>
            ))}
          </ul>
        </Part>
      )}
      <Part title="What roles mean">
        <dl className="grid grid-cols-[6rem_1fr] gap-y-1">
          {roles.map((role) => (
            <RoleMeaning key={role} role={role} />
          ))}
        </dl>
      </Part>
      {inviting && <InviteSheet onClose={() => setInviting(false)} />}
      {changing && <AccessSheet member={changing} onClose={() => setChanging(undefined)} />}
    </div>
  )
}

const RoleMeaning = ({ role }: { role: Role }) => (
  <>
    <dt className="font-semibold">{roleNames[role]}</dt>
    <dd className="text-ink-soft">{roleMeans[role]}</dd>
  </>
)

function describeRoles({ access }: Member, named: (ids: readonly number[] | null) => string): string[] {
  const lines = [
    ...(access.everywhere ? [`${roleNames[access.everywhere]} at all sites`] : []),
    ...access.sites.map(({ siteId, role }) => `${roleNames[role]} at ${named([siteId])}`),
  ]
  return lines.length > 0 ? lines : ['No role any more']
}
