import { scopeOf } from '@jaunty-sparrow/core/access'
import type { TObject } from '@sinclair/typebox'
import { NoticeCall } from './notice.ts'
import { Problem } from './problem.ts'
import type { Route } from './route.ts'
import { routes } from './routes.ts'

/** Writes the people's API as an OpenAPI 3.1 document, from the same routes the server binds. */
export function openApiDocument(): object {
  const paths: Record<string, Record<string, object>> = {}
  for (const [operationId, route] of Object.entries<Route>(routes)) {
    paths[route.path] = { ...paths[route.path], [route.method]: describe(operationId, route) }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Jaunty Sparrow',
      version: '1',
      description:
        'What people and their pages can ask for. Instants are epoch milliseconds. Devices send to /in instead; see docs/devices.md.',
    },
    paths,
    webhooks: { notice: { post: noticeCall } },
    components: {
      schemas: { Problem },
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'sparrow_session' },
        token: {
          type: 'http',
          scheme: 'bearer',
          description: 'A token made for a program; the scopes it needs stand with each operation.',
        },
      },
    },
  }
}

const header = (name: string, description: string) => ({
  name,
  in: 'header',
  required: true,
  schema: { type: 'string' },
  description,
})

/** What somebody's program is called with when it is told of alarms. */
const noticeCall = {
  summary: 'Tells of alarms; sent again, with the same id, until it is answered with 2xx',
  parameters: [
    header('webhook-id', 'The same however often it is sent.'),
    header('webhook-timestamp', 'Seconds of the epoch.'),
    header('webhook-signature', 'v1, and base64 of HMAC-SHA-256 over id.timestamp.body.'),
  ],
  requestBody: { required: true, content: { 'application/json': { schema: NoticeCall } } },
  responses: { '2XX': { description: 'Taken' } },
}

function describe(operationId: string, route: Route): object {
  return {
    operationId,
    summary: route.summary,
    description: needs(route),
    security: security(route),
    parameters: [...parameters('path', route.params), ...parameters('query', route.query)],
    ...(route.body && {
      requestBody: { required: true, content: { 'application/json': { schema: route.body } } },
    }),
    responses: {
      [route.status]: {
        description: 'Done',
        ...(route.response && { content: { 'application/json': { schema: route.response } } }),
        ...(route.media && {
          content: { [route.media]: { schema: { type: 'string', format: 'binary' } } },
        }),
        ...(route.streams && { content: { 'text/event-stream': { schema: { type: 'string' } } } }),
      },
      default: {
        description: 'What was wrong',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  }
}

const takesToken = ({ role, forPeople }: Route): boolean =>
  role !== 'anyone' && role !== 'signed-in' && forPeople !== true

function needs(route: Route): string {
  const { role, at } = route
  if (role === 'anyone') return 'Open to anyone.'
  if (role === 'signed-in') return 'For a person who is signed in; no token.'
  const where = at === 'everywhere' ? ' at all sites' : ''
  return takesToken(route)
    ? `Needs the role: ${role}${where}. A token needs the scope: ${scopeOf[role]}.`
    : `Needs the role: ${role}${where}; no token.`
}

const security = (route: Route): object[] => {
  if (route.role === 'anyone') return []
  if (!takesToken(route) || route.role === 'signed-in') return [{ session: [] }]
  return [{ session: [] }, { token: [scopeOf[route.role]] }]
}

const parameters = (where: 'path' | 'query', shape: TObject | undefined): object[] =>
  Object.entries(shape?.properties ?? {}).map(([name, schema]) => ({
    name,
    in: where,
    required: where === 'path' || (shape?.required ?? []).includes(name),
    schema,
  }))
