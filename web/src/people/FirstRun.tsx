import { CredentialForm } from './CredentialForm.tsx'
import { Door } from './Door.tsx'
import { useCreateOwnerMutation } from './peopleApi.ts'

/** The very first visit: whoever comes first becomes the owner. */
export function FirstRun() {
  const [create, { isLoading, error }] = useCreateOwnerMutation()
  return (
    <Door
      title="Nobody lives here yet"
      lead="Choose the name and password of the owner. Everything you build here will be yours, on this machine."
    >
      <CredentialForm
        purpose="create"
        busy={isLoading}
        error={error}
        onSubmit={(credential) => void create(credential)}
      />
    </Door>
  )
}
