import type { IncomingMessage } from 'node:http'
import {
  largestPiece,
  longestDashboard,
  longestPicture,
  openApiDocument,
  type ProblemKind,
  problems,
} from '@jaunty-sparrow/contract'
import compression from 'compression'
import express, { type ErrorRequestHandler, type Express } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { type AlarmRouteParts, bindAlarms } from './alarms/routes.ts'
import { type ArrivalParts, bindArrivals } from './arrivals/routes.ts'
import { bindClaims, type ClaimParts } from './claims/routes.ts'
import { bindCommands, type CommandRouteParts } from './commands/routes.ts'
import { bindCondition, type ConditionParts } from './condition/routes.ts'
import { bindDashboards, type DashboardParts } from './dashboards/routes.ts'
import { bindDevices, type DeviceParts, oneDevice } from './devices/routes.ts'
import { bindService } from './devices/serviceRoutes.ts'
import { bindFileDoor } from './doors/fileDoor.ts'
import { bindSerialPorts } from './doors/serialPortRoutes.ts'
import { bindNotes, type NoteParts } from './events/noteRoutes.ts'
import { bindEvents, type EventParts } from './events/routes.ts'
import { bindExplain } from './explain/routes.ts'
import type { AllowedHosts } from './http/allowedHosts.ts'
import { Binder, type Places } from './http/binder.ts'
import { unencrypted } from './http/plainFromElsewhere.ts'
import { ProblemError, sendProblem, storeAway } from './http/problemResponse.ts'
import { serveWeb } from './http/web.ts'
import type { StraightWay } from './ingest/straightWay.ts'
import { bindConversionTrial } from './kits/conversionTrial.ts'
import { bindDerivationTrial } from './kits/derivationTrial.ts'
import { bindDescriptionsAt } from './kits/descriptionsAt.ts'
import { bindFaultProposals } from './kits/faultProposals.ts'
import { bindKits, type KitParts } from './kits/routes.ts'
import { bindSignals, type SignalParts } from './kits/signalRoutes.ts'
import type { Readiness } from './life/readiness.ts'
import { bindEventStream, type StreamParts } from './live/eventStream.ts'
import type { SitesOf } from './live/sight.ts'
import { bindNotices, type NoticeRouteParts } from './notices/routes.ts'
import { bindPaper } from './paper/routes.ts'
import { bindInvitations } from './people/invitationRoutes.ts'
import { bindMembers } from './people/memberRoutes.ts'
import { bindOwnPage } from './people/ownPage.ts'
import type { ProgramTokens } from './people/programTokens.ts'
import { bindPeople } from './people/routes.ts'
import type { SessionKeeper } from './people/sessionKeeper.ts'
import { bindTokens } from './people/tokenRoutes.ts'
import type { ReachedAt } from './reach/reach.ts'
import { bindReach } from './reach/routes.ts'
import { bindCapacity } from './readings/capacityRoutes.ts'
import { bindRecompute, type RecomputeParts } from './recompute/routes.ts'
import { bindRereadings, type RereadingParts } from './rereading/routes.ts'
import { bindRules, type RuleRouteParts } from './rules/routes.ts'
import { bindShares, type ShareParts } from './share/routes.ts'
import { bindSites, type SiteParts } from './sites/routes.ts'
import { holdsNul, whyStoreAway } from './store/databaseError.ts'
import { bindStrip, type StripParts } from './strip/routes.ts'
import { bindTotals, type TotalsParts } from './totals/routes.ts'
import { bindTraces, type TraceParts } from './traces/routes.ts'

export interface ApplicationParts
  extends Omit<
    DeviceParts &
      KitParts &
      SignalParts &
      TraceParts &
      StripParts &
      TotalsParts &
      EventParts &
      ClaimParts &
      RereadingParts &
      RecomputeParts &
      ConditionParts &
      Omit<ShareParts, 'tellDevice'> &
      Pick<StreamParts, 'hub'> &
      ArrivalParts &
      DashboardParts &
      NoteParts &
      CommandRouteParts &
      RuleRouteParts &
      AlarmRouteParts &
      NoticeRouteParts &
      SiteParts,
    'binder'
  > {
  readonly sessions: SessionKeeper
  readonly programs: ProgramTokens
  readonly places: Places & SitesOf
  readonly straightWay: StraightWay
  readonly log: Logger
  readonly now: () => number
  readonly firstRunToken: string
  readonly readiness: Readiness
  readonly hosts: AllowedHosts
  readonly reach: ReachedAt
  /** Whether a request may not bring secrets: it came without TLS where that is forbidden. */
  readonly isForbidden: (request: IncomingMessage) => boolean
  /** File of the certificate that phones import; undefined where there is no local authority. */
  readonly authorityCertificate: string | undefined
  /** Whether browsers may be told to come by TLS only: the certificate is one that lasts. */
  readonly isStrict: boolean
  /** Proxies whose word is taken for who asks. */
  readonly trustProxy: string | undefined
  /** Folder of the built web pages; absent while developing, when something else serves them. */
  readonly webRoot: string | undefined
}

/** What people and their browsers talk to: the API, the pages, and the signs of life for operators. */
export function createApplication(parts: ApplicationParts): Express {
  const {
    sessions,
    programs,
    places,
    readiness,
    hosts,
    reach,
    isForbidden,
    authorityCertificate,
    isStrict,
    trustProxy,
    tiles,
  } = parts
  const app = express()
  app.disable('x-powered-by')
  // Else whoever asks could say to be anybody.
  app.set('trust proxy', trustProxy ?? false)
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', ...(tiles ? [new URL(tiles.address).origin] : [])],
          // Served over plain HTTP inside a house, an upgrade would break every link.
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: isStrict,
    }),
    compression(),
  )

  app.use((request, _response, next) => {
    if (hosts.allows(request)) return next()
    throw new ProblemError(
      'foreign-host',
      'This server is not asked for by this name. Use its address, or set ALLOWED_HOSTS to the name.',
    )
  })

  app.get('/authority.crt', (_request, response) => {
    if (authorityCertificate === undefined)
      throw new ProblemError('not-found', 'There is no local authority here.')
    response.type('application/x-x509-ca-cert').sendFile(authorityCertificate)
  })
  // Who asks for a page is led to where it is private; who sends a password is told.
  app.use((request, response, next) => {
    if (!isForbidden(request) || /^\/(?:healthz|readyz)$/.test(request.path)) return next()
    const { url } = reach.told().people
    if (request.method === 'GET' && url.startsWith('https:') && !request.path.startsWith('/api'))
      return response.redirect(307, new URL(request.originalUrl, url).href)
    throw unencrypted(reach.told())
  })

  app.get('/healthz', (_request, response) => {
    response.type('text').send('alive\n')
  })
  app.get('/readyz', async (_request, response) => {
    const problems = await readiness.problems()
    response
      .status(problems.length === 0 ? 200 : 503)
      .type('text')
      .send(problems.length === 0 ? 'ready\n' : `${problems.join('\n')}\n`)
  })

  // Pieces of files and pictures are large; everything else that people send is small.
  app.use('/api/devices/:address/file', express.json({ limit: 4 * largestPiece }))
  app.use('/api/kits', express.json({ limit: longestPicture + 300_000 }))
  app.use('/api/dashboards', express.json({ limit: longestDashboard }))
  app.use('/api', express.json({ limit: '100kb' }))
  app.get('/api/openapi.json', (_request, response) => {
    response.json(openApiDocument())
  })
  const binder = new Binder({ app, sessions, programs, places })
  bindPeople({ ...parts, binder })
  bindOwnPage({ ...parts, binder })
  bindMembers({ ...parts, binder })
  bindInvitations({ ...parts, binder })
  bindTokens({ ...parts, binder })
  bindReach({ ...parts, binder })
  bindShares({ ...parts, binder, tellDevice: (address) => oneDevice({ ...parts, binder }, address, []) })
  bindPaper({ ...parts, binder, tellDevice: (address) => oneDevice({ ...parts, binder }, address, []) })
  bindSites({ ...parts, binder })
  bindDevices({ ...parts, binder })
  bindService({ ...parts, binder })
  bindKits({ ...parts, binder })
  bindSignals({ ...parts, binder })
  bindConversionTrial({ ...parts, binder })
  bindDerivationTrial({ ...parts, binder })
  bindFaultProposals({ ...parts, binder })
  bindTraces({ ...parts, binder })
  bindEventStream({ ...parts, binder })
  bindTotals({ ...parts, binder })
  bindDescriptionsAt({ ...parts, binder })
  bindStrip({ ...parts, binder })
  bindEvents({ ...parts, binder })
  bindNotes({ ...parts, binder })
  bindCommands({ ...parts, binder })
  bindRules({ ...parts, binder })
  bindAlarms({ ...parts, binder })
  bindNotices({ ...parts, binder })
  bindDashboards({ ...parts, binder })
  bindArrivals({ ...parts, binder })
  bindExplain({ ...parts, binder })
  bindClaims({ ...parts, binder })
  bindRereadings({ ...parts, binder })
  bindRecompute({ ...parts, binder })
  bindFileDoor({ ...parts, binder })
  bindSerialPorts({ ...parts, binder })
  bindCapacity({ ...parts, binder })
  bindCondition({ ...parts, binder })
  app.use('/api', (request) => {
    throw new ProblemError(
      'not-found',
      `There is no ${request.method} ${request.originalUrl.split('?')[0]}; /api/openapi.json lists what there is.`,
    )
  })

  app.get('/problems/:kind', (request, response) => {
    const problem = problems[request.params.kind as ProblemKind]
    if (!problem) throw new ProblemError('not-found', 'There is no such kind of problem.')
    response
      .type('text')
      .send(
        `${problem.status} ${problem.title}\n\nThe "detail" of each answer says what was wrong and what to do.\n`,
      )
  })
  if (parts.webRoot) serveWeb(app, parts.webRoot, parts.links)
  app.use(answerErrors(parts))
  return app
}

const answerErrors =
  ({ log, faults }: ApplicationParts): ErrorRequestHandler =>
  (error, request, response, next) => {
    if (response.headersSent) return next(error)
    if (error instanceof ProblemError) return sendProblem(response, error)
    if (error?.type === 'entity.parse.failed')
      return sendProblem(response, new ProblemError('not-json', 'The body is not JSON.'))
    if (error?.type === 'entity.too.large')
      return sendProblem(response, new ProblemError('too-large', 'The body is larger than is taken here.'))
    if (typeof error?.status === 'number' && error.status >= 400 && error.status < 500)
      return sendProblem(response, new ProblemError('invalid', String(error.message)))
    if (holdsNul(error))
      return sendProblem(
        response,
        new ProblemError(
          'invalid',
          'A text holds the character U+0000, which cannot be stored: leave it out.',
        ),
      )
    const away = whyStoreAway(error)
    if (away) {
      log.warn({ err: error, method: request.method, path: request.path }, 'the database is away')
      return sendProblem(response, storeAway(away))
    }
    faults.note(`${request.method} ${request.path}`, error)
    sendProblem(response, new ProblemError('internal', 'The server failed to answer; its log says why.'))
  }
