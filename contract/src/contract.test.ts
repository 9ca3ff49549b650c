import { openApiDocument } from './openApi.ts'
import { requestTo } from './requestTo.ts'
import type { Route } from './route.ts'
import { routes } from './routes.ts'

const all = Object.entries<Route>(routes)

describe('the routes', () => {
  it.each(all)('%s states path parameters that its path has, and no others', (_, { path, params }) => {
    const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name)
    expect(Object.keys(params?.properties ?? {})).toEqual(inPath)
  })

  it.each(all)('%s refuses members it does not know', (_, { body }) => {
    if (body) expect(body.additionalProperties).toBe(false)
  })

  it.each(all)('%s says where its role is needed, when it needs one', (_, { role, at }) => {
    expect(at === undefined).toBe(role === 'anyone' || role === 'signed-in')
  })

  it('lets nobody change anything without a role, except to come in, or by the link of a notice', () => {
    const open = all
      .filter(([, { role, method }]) => role === 'anyone' && method !== 'get')
      .map(([name]) => name)
    const comesIn = ['createOwner', 'signIn', 'signInByLink', 'readInvitation', 'acceptInvitation']
    expect(open).toEqual([...comesIn, 'readSeenLink', 'useSeenLink'])
  })
})

describe('the OpenAPI document', () => {
  it('describes every route once', () => {
    const { paths } = openApiDocument() as { paths: Record<string, Record<string, { operationId: string }>> }
    const described = Object.values(paths).flatMap((path) =>
      Object.values(path).map(({ operationId }) => operationId),
    )
    expect(described.sort()).toEqual(all.map(([name]) => name).sort())
  })
})

describe('a request', () => {
  it('has its parameters in the path and its query behind, as far as it is stated', () => {
    expect(requestTo(routes.changeDevice, { params: { address: 'a/b' }, body: { name: 'Vat' } })).toEqual({
      method: 'PATCH',
      path: '/api/devices/a%2Fb',
      body: { name: 'Vat' },
    })
    const query = { limit: 5, text: '50 % & more', deviceId: undefined as never }
    expect(requestTo(routes.listArrivals, { query })).toEqual({
      method: 'GET',
      path: '/api/arrivals?limit=5&text=50%20%25%20%26%20more',
    })
  })
})
