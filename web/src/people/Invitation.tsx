import { useState } from 'react'
import { Link, useLocation, useNavigate } from 'react-router'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { CredentialForm } from './CredentialForm.tsx'
import { Door } from './Door.tsx'
import { useAcceptInvitationMutation, useReadInvitationQuery, useSessionQuery } from './peopleApi.ts'
import { roleMeans } from './roleWords.ts'

/** Where an invitation leads: what it offers, and coming in by it. Its token stands behind the #, and reaches no log. */
export function Invitation() {
  const { hash } = useLocation()
  const navigate = useNavigate()
  const [token] = useState(hash.slice(1))
  const { data: offer, error: spent } = useReadInvitationQuery(token || '-')
  const { data: session } = useSessionQuery()
  const [accept, { isLoading, error }] = useAcceptInvitationMutation()
  if (spent) {
    return (
      <Door title="This invitation is over" lead={problemText(spent)}>
        <Link to="/" className="font-semibold text-chestnut underline">
          To the sign-in page
        </Link>
      </Door>
    )
  }
  if (!offer || !session) return <Door title="One moment" lead="Reading your invitation." />
  const come = (person?: { name: string; password: string }) =>
    void accept({ token, ...(person && { person }) })
      .unwrap()
      .then(
        () => navigate('/', { replace: true }),
        () => undefined,
      )
  const where = offer.sites === null ? 'at all sites' : `at ${offer.sites.join(', ')}`
  return (
    <Door
      title={offer.by ? `${offer.by} invites you` : 'You are invited'}
      lead={`As ${offer.role} ${where}: ${roleMeans[offer.role]}.`}
    >
      {session.state === 'signed-in' ? (
        <>
          {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
          <Button weight="strong" className="min-h-11" disabled={isLoading} onClick={() => come()}>
            Take it as {session.person.name}
          </Button>
        </>
      ) : (
        <CredentialForm purpose="join" busy={isLoading} error={error} onSubmit={come} />
      )}
    </Door>
  )
}
