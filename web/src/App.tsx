import { type ComponentType, lazy, Suspense, useEffect } from 'react'
import { createBrowserRouter, Link, RouterProvider, useRouteError } from 'react-router'
import { Button, buttonLook } from './design/Button.tsx'
import { Notice } from './design/Notice.tsx'
import { Sparrow } from './design/Sparrow.tsx'
import { setLanguage } from './language/language.ts'
import { Door } from './people/Door.tsx'
import { NobodyAnswers } from './people/NobodyAnswers.tsx'
import { useSessionQuery } from './people/peopleApi.ts'
import { Bare } from './shell/Bare.tsx'
import { Shell } from './shell/Shell.tsx'
import { wear } from './shell/theme.ts'

const FirstRun = lazy(async () => ({ default: (await import('./people/FirstRun.tsx')).FirstRun }))
const SignIn = lazy(async () => ({ default: (await import('./people/SignIn.tsx')).SignIn }))

/** Nobody gets further than the door who is not signed in. */
function Gate({ Frame }: { Frame: ComponentType }) {
  const { data: session, error, refetch } = useSessionQuery()
  const theme = session?.state === 'signed-in' ? session.preferences.theme : undefined
  useEffect(() => {
    if (theme) wear(theme)
  }, [theme])
  // A session once known stays on the screen while the server is away: the page then says that it is not live.
  if (session?.state === 'signed-in') {
    const { language } = session.preferences
    setLanguage(language)
    // Drawn anew in another language: what is written is not asked for what it holds.
    return <Frame key={language} />
  }
  if (session) {
    return (
      <Suspense fallback={<Waiting />}>{session.state === 'first-run' ? <FirstRun /> : <SignIn />}</Suspense>
    )
  }
  if (error) return <NobodyAnswers error={error} ask={refetch} />
  return <Waiting />
}

const Waiting = () => (
  <div role="status" className="grid min-h-dvh place-content-center text-chestnut">
    <span className="sr-only">Loading</span>
    <Sparrow className="size-12 animate-pulse [animation-delay:400ms]" />
  </div>
)

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

/** Each page is fetched when it is first looked at. */
const router = createBrowserRouter([
  {
    path: '/sign-in/link',
    HydrateFallback: Waiting,
    lazy: async () => ({ Component: (await import('./people/LinkLanding.tsx')).LinkLanding }),
  },
  {
    path: '/seen',
    HydrateFallback: Waiting,
    lazy: async () => ({ Component: (await import('./notices/SeenPage.tsx')).SeenPage }),
  },
  {
    path: '/invitation',
    HydrateFallback: Waiting,
    lazy: async () => ({ Component: (await import('./people/Invitation.tsx')).Invitation }),
  },
  {
    path: '/shared/:token',
    errorElement: <Broken />,
    HydrateFallback: Waiting,
    lazy: async () => ({ Component: (await import('./pages/shared/SharedPage.tsx')).SharedPage }),
  },
  {
    element: <Gate Frame={Bare} />,
    errorElement: <Broken />,
    HydrateFallback: Waiting,
    children: [
      {
        path: '/wall/:dashboardId',
        lazy: async () => ({ Component: (await import('./pages/dashboard/WallPage.tsx')).WallPage }),
      },
    ],
  },
  {
    element: <Gate Frame={Shell} />,
    errorElement: <Broken />,
    HydrateFallback: Waiting,
    children: [
      {
        path: '/',
        lazy: async () => ({ Component: (await import('./pages/overview/Overview.tsx')).Overview }),
      },
      {
        path: '/budget',
        lazy: async () => ({ Component: (await import('./pages/budget/BudgetPage.tsx')).BudgetPage }),
      },
      {
        path: '/arrivals',
        lazy: async () => ({ Component: (await import('./pages/arrivals/ArrivalsPage.tsx')).ArrivalsPage }),
      },
      {
        path: '/bench',
        lazy: async () => ({ Component: (await import('./pages/bench/BenchPage.tsx')).BenchPage }),
      },
      {
        path: '/bench/kits/:kitId',
        lazy: async () => ({ Component: (await import('./pages/bench/KitPage.tsx')).KitPage }),
      },
      {
        path: '/bench/kits',
        lazy: async () => ({ Component: (await import('./pages/bench/KitsPage.tsx')).KitsPage }),
      },
      {
        path: '/settings',
        lazy: async () => ({ Component: (await import('./pages/settings/SettingsPage.tsx')).SettingsPage }),
        children: [
          {
            index: true,
            lazy: async () => ({ Component: (await import('./pages/settings/OwnPage.tsx')).OwnPage }),
          },
          {
            path: 'sites',
            lazy: async () => ({ Component: (await import('./pages/settings/SitesPage.tsx')).SitesPage }),
          },
          {
            path: 'people',
            lazy: async () => ({ Component: (await import('./pages/settings/PeoplePage.tsx')).PeoplePage }),
          },
          {
            path: 'tokens',
            lazy: async () => ({ Component: (await import('./pages/settings/TokensPage.tsx')).TokensPage }),
          },
          {
            path: 'reach',
            lazy: async () => ({ Component: (await import('./pages/settings/ReachPage.tsx')).ReachPage }),
          },
          {
            path: 'server',
            lazy: async () => ({ Component: (await import('./pages/settings/ServerPage.tsx')).ServerPage }),
          },
          {
            path: 'log',
            lazy: async () => ({ Component: (await import('./pages/settings/LogPage.tsx')).LogPage }),
          },
        ],
      },
      {
        path: '/dashboards/:dashboardId',
        lazy: async () => ({
          Component: (await import('./pages/dashboard/DashboardPage.tsx')).DashboardPage,
        }),
      },
      ...['/rules/new/:signalId', '/rules/:ruleId'].map((path) => ({
        path,
        lazy: async () => ({ Component: (await import('./pages/rule/RulePage.tsx')).RulePage }),
      })),
      {
        path: '/guard',
        lazy: async () => ({ Component: (await import('./pages/guard/GuardPage.tsx')).GuardPage }),
      },
      {
        path: '/guard/record',
        lazy: async () => ({ Component: (await import('./pages/guard/RecordPage.tsx')).RecordPage }),
      },
      {
        path: '/guard/told',
        lazy: async () => ({ Component: (await import('./pages/guard/ToldPage.tsx')).ToldPage }),
      },
      {
        path: '/guard/sent',
        lazy: async () => ({ Component: (await import('./pages/guard/SentPage.tsx')).SentPage }),
      },
      ...['/guard/new/:signalId', '/guard/:alarmId'].map((path) => ({
        path,
        lazy: async () => ({ Component: (await import('./pages/alarm/AlarmPage.tsx')).AlarmPage }),
      })),
      {
        path: '/act',
        lazy: async () => ({ Component: (await import('./pages/act/ActPage.tsx')).ActPage }),
      },
      {
        path: '/instruments',
        lazy: async () => ({
          Component: (await import('./pages/instruments/CataloguePage.tsx')).CataloguePage,
        }),
      },
      {
        path: '/devices/new',
        lazy: async () => ({ Component: (await import('./pages/newDevice/NewDevice.tsx')).NewDevice }),
      },
      {
        path: '/devices/:address',
        lazy: async () => ({ Component: (await import('./pages/device/DevicePage.tsx')).DevicePage }),
      },
      { path: '*', element: <NotFound /> },
    ],
  },
])

export const App = () => <RouterProvider router={router} />
