import { largestPiece, openApiDocument, type ProblemKind, problems } from '@jaunty-sparrow/contract'
import compression from 'compression'
import express, { type ErrorRequestHandler, type Express } from 'express'
import { rateLimit } from 'express-rate-limit'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { bindFileDoor } from '../doors/fileDoor.ts'
import { ProblemError, sendProblem, storeAway } from '../doors/problemResponse.ts'
import type { StraightWay } from '../ingest/straightWay.ts'
import type { SessionKeeper } from '../people/sessionKeeper.ts'
import { isStoreAway } from '../store/databaseError.ts'
import { bindArrivals } from './arrivals.ts'
import { Binder } from './binder.ts'
import { bindCapacity } from './capacity.ts'
import { bindClaims } from './claims.ts'
import { bindDevices, type DeviceParts } from './devices.ts'
import { bindPeople } from './people.ts'
import { bindReplays, type ReplayParts } from './replays.ts'
import { bindSerialPorts } from './serialPorts.ts'
import { bindSignals } from './signals.ts'
import { bindSites } from './sites.ts'
import { serveWeb } from './web.ts'

export interface ApplicationParts extends Omit<DeviceParts & ReplayParts, 'binder'> {
  readonly sessions: SessionKeeper
  readonly straightWay: StraightWay
  readonly log: Logger
  readonly now: () => number
  readonly firstRunToken: string
  readonly mqttPort: number | undefined
  readonly coapPort: number | undefined
  /** Folder of the built web pages; absent while developing, when something else serves them. */
  readonly webRoot: string | undefined
}

/** What people and their browsers talk to: the API, the pages, and the signs of life for operators. */
export function createApplication(parts: ApplicationParts): Express {
  const { database, sessions, log } = parts
  const app = express()
  app.disable('x-powered-by')
  // A reverse proxy on the same machine may say that the outside is HTTPS.
  app.set('trust proxy', 'loopback')
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          // Served over plain HTTP inside a house, an upgrade would break every link.
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
    compression(),
  )

  app.get('/healthz', (_request, response) => {
    response.type('text').send('alive\n')
  })
  app.get('/readyz', async (_request, response) => {
    await database.$client.query('select 1')
    response.type('text').send('ready\n')
  })

  // Pieces of files are large; everything else that people send is small.
  app.use('/api/devices/:address/file', express.json({ limit: 4 * largestPiece }))
  app.use('/api', express.json({ limit: '100kb' }))
  app.post(['/api/session', '/api/session/link'], limitAttempts())
  app.get('/api/openapi.json', (_request, response) => {
    response.json(openApiDocument())
  })
  const binder = new Binder(app, sessions)
  bindPeople({ ...parts, binder })
  bindSites({ ...parts, binder })
  bindDevices({ ...parts, binder })
  bindSignals({ ...parts, binder })
  bindArrivals({ ...parts, binder })
  bindClaims({ ...parts, binder })
  bindReplays({ ...parts, binder })
  bindFileDoor({ ...parts, binder })
  bindSerialPorts({ ...parts, binder })
  bindCapacity({ ...parts, binder })
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
  if (parts.webRoot) serveWeb(app, parts.webRoot)
  app.use(answerErrors(log))
  return app
}

/** Ten wrong attempts in a quarter of an hour from one address; right ones do not count. */
const limitAttempts = () =>
  rateLimit({
    windowMs: 15 * 60_000,
    limit: 10,
    skipSuccessfulRequests: true,
    standardHeaders: true,
    legacyHeaders: false,
    handler: () => {
      throw new ProblemError(
        'too-many-attempts',
        'Too many attempts to sign in failed from this address. Wait a quarter of an hour.',
      )
    },
  })

const answerErrors =
  (log: Logger): ErrorRequestHandler =>
  (error, request, response, next) => {
    if (response.headersSent) return next(error)
    if (error instanceof ProblemError) return sendProblem(response, error)
    if (error?.type === 'entity.parse.failed')
      return sendProblem(response, new ProblemError('not-json', 'The body is not JSON.'))
    if (error?.type === 'entity.too.large')
      return sendProblem(response, new ProblemError('too-large', 'The body is larger than is taken here.'))
    if (typeof error?.status === 'number' && error.status >= 400 && error.status < 500)
      return sendProblem(response, new ProblemError('invalid', String(error.message)))
    if (isStoreAway(error)) return sendProblem(response, storeAway())
    log.error({ err: error, method: request.method, path: request.path }, 'a request failed')
    sendProblem(response, new ProblemError('internal', 'The server failed to answer; its log says why.'))
  }
