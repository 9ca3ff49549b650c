import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

const Origin = Type.String({ description: 'Such as http://192.168.1.20:7600.' })
const Port = Type.Union([Type.Integer(), Type.Null()])

/** By which addresses boards and people reach the server; every line to paste and every link is made of these. */
export const Reach = Type.Object({
  people: Type.Object({
    url: Origin,
    isStated: Type.Boolean({ description: 'Whether PUBLIC_URL says so; else it was found.' }),
    others: Type.Array(Origin, { description: 'Further addresses that were found.' }),
  }),
  devices: Type.Object({
    url: Origin,
    isStated: Type.Boolean({ description: 'Whether DEVICE_URL says so.' }),
    host: Type.String({ description: 'For protocols that are no URLs.' }),
    mqttPort: Port,
    mqttTlsPort: Port,
    coapPort: Port,
  }),
  isLocalOnly: Type.Boolean({
    description: 'Whether it listens to its own machine only, and nobody stated how it is reached otherwise.',
  }),
  elsewhereAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'When another machine reached it last, since the start; epoch milliseconds.',
  }),
  tls: Type.Union(
    [
      Type.Object({
        isLocalAuthority: Type.Boolean({
          description: 'Whether phones have to be told to trust it: /authority.crt is what they import.',
        }),
        validUntil: Type.Integer({ description: 'Epoch milliseconds.' }),
        fingerprint: Type.String({ description: 'SHA-256 of the certificate, for boards that pin it.' }),
      }),
      Type.Null(),
    ],
    { description: 'The certificate of the server itself; null where it has none.' },
  ),
  plainSecrets: Type.Boolean({
    description: 'Whether secrets may come from other machines without TLS.',
  }),
})
export type Reach = Static<typeof Reach>

export const getReach = defineRoute({
  method: 'get',
  path: '/api/reach',
  summary: 'By which addresses boards and people reach the server, and through which doors',
  role: 'viewer',
  at: 'somewhere',
  response: Reach,
  status: 200,
})
