import { ChevronsUpDown } from 'lucide-react'
import { type ComponentProps, lazy, Suspense, useState } from 'react'
import { useSessionQuery } from '../people/peopleApi.ts'

const PersonMenu = lazy(async () => ({ default: (await import('./PersonMenu.tsx')).PersonMenu }))

/** Who is signed in. What hangs on it is fetched when somebody reaches for it: the first values do not wait for a menu. */
export function PersonButton() {
  const { data: session } = useSessionQuery()
  const [opened, setOpened] = useState(false)
  if (session?.state !== 'signed-in') return null
  const { person } = session
  const button = (
    <NameButton
      name={person.name}
      aria-haspopup="menu"
      aria-expanded={false}
      onClick={() => setOpened(true)}
    />
  )
  return opened ? (
    <Suspense fallback={button}>
      <PersonMenu>
        <NameButton name={person.name} />
      </PersonMenu>
    </Suspense>
  ) : (
    button
  )
}

const NameButton = ({ name, ...rest }: { name: string } & ComponentProps<'button'>) => (
  <button
    type="button"
    className="inline-flex min-h-9 items-center gap-1.5 rounded-md px-2 text-sm text-ink-soft hover:bg-well hover:text-ink"
    {...rest}
  >
    {name}
    <ChevronsUpDown aria-hidden="true" className="size-3.5" />
  </button>
)
