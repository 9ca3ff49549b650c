import { useLocation, useNavigate } from 'react-router'
import { CredentialForm } from './CredentialForm.tsx'
import { Door } from './Door.tsx'
import { useCreateOwnerMutation } from './peopleApi.ts'

/** The very first visit. It takes the link that the server printed: its token stands behind the #. */
export function FirstRun() {
  const [create, { isLoading, error }] = useCreateOwnerMutation()
  const { hash } = useLocation()
  const navigate = useNavigate()
  const token = hash.slice(1)
  if (token === '') {
    return (
      <Door
        title="Nobody lives here yet"
        lead="The owner is created with the link that was printed where the server was started. Open that link here: it shows that the machine is yours."
      />
    )
  }
  return (
    <Door
      title="Nobody lives here yet"
      lead="Choose the name and password of the owner. Everything you build here will be yours, on this machine."
    >
      <CredentialForm
        purpose="create"
        busy={isLoading}
        error={error}
        onSubmit={(credential) =>
          void create({ ...credential, token })
            .unwrap()
            .then(
              () => navigate('/', { replace: true }),
              () => undefined,
            )
        }
      />
    </Door>
  )
}
