import { useEffect, useRef } from 'react'
import { Link, useLocation, useNavigate } from 'react-router'
import { problemText } from '../api/problemText.ts'
import { Notice } from '../design/Notice.tsx'
import { Door } from './Door.tsx'
import { useSignInByLinkMutation } from './peopleApi.ts'

/** Where a one-time link leads. Its token stands behind the #, so it never reaches a log on the way. */
export function LinkLanding() {
  const { hash } = useLocation()
  const navigate = useNavigate()
  const [enter, { error }] = useSignInByLinkMutation()
  const spent = useRef(false)
  useEffect(() => {
    // A token works once; React may run an effect twice.
    if (spent.current) return
    spent.current = true
    void enter({ token: hash.slice(1) || '-' })
      .unwrap()
      .then(
        () => navigate('/', { replace: true }),
        () => undefined,
      )
  }, [enter, hash, navigate])
  return (
    <Door title="One moment" lead="Signing you in with your link.">
      {error && (
        <Notice tone="trouble" title={problemText(error)}>
          <Link to="/" className="font-semibold text-chestnut underline">
            To the sign-in page
          </Link>
        </Notice>
      )}
    </Door>
  )
}
