import { CredentialForm } from './CredentialForm.tsx'
import { Door } from './Door.tsx'
import { useSignInMutation } from './peopleApi.ts'

export function SignIn() {
  const [signIn, { isLoading, error }] = useSignInMutation()
  return (
    <Door title="Good to see you" lead="Sign in to see what is going on at your sites.">
      <CredentialForm
        purpose="enter"
        busy={isLoading}
        error={error}
        onSubmit={(credential) => void signIn(credential)}
      />
    </Door>
  )
}
