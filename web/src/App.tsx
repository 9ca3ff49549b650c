import { createBrowserRouter, Link, RouterProvider, useRouteError } from 'react-router'
import { problemText } from './api/problemText.ts'
import { ArrivalsPage } from './arrivals/ArrivalsPage.tsx'
import { BudgetPage } from './budget/BudgetPage.tsx'
import { Button, buttonLook } from './design/Button.tsx'
import { Notice } from './design/Notice.tsx'
import { Sparrow } from './design/Sparrow.tsx'
import { DevicePage } from './devices/DevicePage.tsx'
import { NewDevice } from './devices/NewDevice.tsx'
import { Door } from './people/Door.tsx'
import { FirstRun } from './people/FirstRun.tsx'
import { LinkLanding } from './people/LinkLanding.tsx'
import { useSessionQuery } from './people/peopleApi.ts'
import { SignIn } from './people/SignIn.tsx'
import { Shell } from './shell/Shell.tsx'
import { Overview } from './sites/Overview.tsx'

/** Nobody gets further than the door who is not signed in. */
function Gate() {
  const { data: session, error, refetch } = useSessionQuery()
  // A session once known stays on the screen while the server is away: the page then says that it is not live.
  if (session?.state === 'signed-in') return <Shell />
  if (session?.state === 'first-run') return <FirstRun byLink={session.byLink} />
  if (session) return <SignIn />
  if (error) {
    return (
      <Door title="Nobody answers" lead="This page is here, the server behind it is not.">
        <Notice tone="trouble" title={problemText(error)} />
        <Button weight="strong" onClick={() => void refetch()}>
          Try again
        </Button>
      </Door>
    )
  }
  return (
    <div role="status" className="grid min-h-dvh place-content-center text-chestnut">
      <span className="sr-only">Loading</span>
      <Sparrow className="size-12 animate-pulse" />
    </div>
  )
}

/** The page itself broke: say so, and offer what helps. */
function Broken() {
  const error = useRouteError()
  return (
    <Door
      title="This page has broken"
      lead="That is a fault of the program, not of yours. Nothing that devices sent is lost."
    >
      <Notice tone="trouble" title={error instanceof Error ? error.message : String(error)} />
      <Button weight="strong" onClick={() => window.location.reload()}>
        Load the page again
      </Button>
    </Door>
  )
}

const NotFound = () => (
  <div className="grid justify-items-start gap-4 py-10">
    <h1 className="text-3xl">There is no such page</h1>
    <Link to="/" className={buttonLook('strong')}>
      To all devices
    </Link>
  </div>
)

const router = createBrowserRouter([
  { path: '/sign-in/link', element: <LinkLanding /> },
  {
    element: <Gate />,
    errorElement: <Broken />,
    children: [
      { path: '/', element: <Overview /> },
      { path: '/budget', element: <BudgetPage /> },
      { path: '/arrivals', element: <ArrivalsPage /> },
      { path: '/devices/new', element: <NewDevice /> },
      { path: '/devices/:address', element: <DevicePage /> },
      { path: '*', element: <NotFound /> },
    ],
  },
])

export const App = () => <RouterProvider router={router} />
