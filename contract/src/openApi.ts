import type { TObject } from '@sinclair/typebox'
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
    components: {
      schemas: { Problem },
      securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'sparrow_session' } },
    },
  }
}

function describe(operationId: string, route: Route): object {
  return {
    operationId,
    summary: route.summary,
    description: `Needs the role: ${route.role}.`,
    security: route.role === 'anyone' ? [] : [{ session: [] }],
    parameters: [...parameters('path', route.params), ...parameters('query', route.query)],
    ...(route.body && {
      requestBody: { required: true, content: { 'application/json': { schema: route.body } } },
    }),
    responses: {
      [route.status]: {
        description: 'Done',
        ...(route.response && { content: { 'application/json': { schema: route.response } } }),
      },
      default: {
        description: 'What was wrong',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  }
}

const parameters = (where: 'path' | 'query', shape: TObject | undefined): object[] =>
  Object.entries(shape?.properties ?? {}).map(([name, schema]) => ({
    name,
    in: where,
    required: where === 'path' || (shape?.required ?? []).includes(name),
    schema,
  }))
