import { addressPattern, largestMessage, longestAddress } from '@jaunty-sparrow/core/device'
import { type Static, Type } from '@sinclair/typebox'
import { Dropped } from './condition.ts'
import { Presence } from './presence.ts'
import { defineRoute } from './route.ts'
import { SerialLine } from './serial.ts'
import { Constants, Signal, StatedCadence } from './signal.ts'

const DeviceName = Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' })
const Address = Type.String({
  pattern: addressPattern,
  maxLength: longestAddress,
  description:
    'Lower-case letters, digits and single hyphens. Firmware and links use it; it does not change with the name.',
})

/** How often a device speaks: as its kit says, else as was learned. */
export const DeviceCadence = Type.Object({
  cadence: StatedCadence,
  source: Type.Union([Type.Literal('stated'), Type.Literal('learned')]),
})

/** What a device may send; in `stated` what a person has said, null where the default holds. */
export const Allowance = Type.Object({
  messagesPerMinute: Type.Integer(),
  readingsPerMinute: Type.Integer(),
  messageBytes: Type.Integer(),
  stated: Type.Object({
    messagesPerMinute: Type.Union([Type.Integer(), Type.Null()]),
    readingsPerMinute: Type.Union([Type.Integer(), Type.Null()]),
    messageBytes: Type.Union([Type.Integer(), Type.Null()]),
  }),
})

const statedAmount = (minimum: number, maximum: number) =>
  Type.Union([Type.Integer({ minimum, maximum }), Type.Null()], {
    description: 'Null lets the default hold: ten times what the cadence needs.',
  })

export const Device = Type.Object({
  id: Type.Integer(),
  name: Type.String(),
  address: Type.String(),
  siteId: Type.Integer(),
  kit: Type.Object({
    id: Type.Integer(),
    name: Type.Union([Type.String(), Type.Null()], {
      description: 'Null for the own kit of a one-off device.',
    }),
  }),
  cadence: Type.Union([DeviceCadence, Type.Null()]),
  /** Of its own, in the place of those of its kit. */
  constants: Constants,
  allowance: Allowance,
  place: Type.String({ description: 'Where at its site it is; empty where nobody has said.' }),
  partNames: Type.Record(Type.String(), Type.String(), {
    description: 'What its parts are called by people, by what the device calls them.',
  }),
  retiredAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'Since when nothing is taken of it, epoch milliseconds; null while it is in service.',
  }),
  reach: Type.Array(Type.String(), {
    description: 'Topic filters outside its own branch that its key may publish to over MQTT.',
  }),
  serial: Type.Union([SerialLine, Type.Null()]),
  dropped: Type.Union([Dropped, Type.Null()], {
    description: 'Messages that were dropped since the server started; null when none were.',
  }),
  heardAt: Type.Union([Type.Integer(), Type.Null()], {
    description: 'When it was heard last, also by a message that was refused; epoch milliseconds.',
  }),
  presence: Presence,
  createdAt: Type.Integer(),
  signals: Type.Array(Signal),
})
export type Device = Static<typeof Device>

/** A device together with its secret, which is told here and never again. */
export const DeviceWithSecret = Type.Object({ device: Device, secret: Type.String() })
export type DeviceWithSecret = Static<typeof DeviceWithSecret>

export const listDevices = defineRoute({
  method: 'get',
  path: '/api/devices',
  summary: 'All devices with their signals and latest readings, by name',
  role: 'viewer',
  at: 'somewhere',
  response: Type.Array(Device),
  status: 200,
})

const params = Type.Object({ address: Type.String() })

export const getDevice = defineRoute({
  method: 'get',
  path: '/api/devices/{address}',
  summary: 'A device with its signals and latest readings',
  role: 'viewer',
  at: 'device',
  params,
  response: Device,
  status: 200,
})

export const createDevice = defineRoute({
  method: 'post',
  path: '/api/devices',
  summary: 'Create a device; its secret is in the answer and nowhere else',
  role: 'owner',
  at: 'body',
  body: Type.Object(
    {
      name: DeviceName,
      address: Address,
      siteId: Type.Integer(),
      kitId: Type.Optional(Type.Integer()),
      copyOf: Type.Optional(
        Type.String({
          description:
            'Address of a device it is to be like: of the same kit, with the same settings of its own.',
        }),
      ),
      takeUnclaimed: Type.Optional(
        Type.Boolean({ description: 'Whether what was sent under this address before counts as its own.' }),
      ),
    },
    { additionalProperties: false },
  ),
  response: DeviceWithSecret,
  status: 201,
})

export const changeDevice = defineRoute({
  method: 'patch',
  path: '/api/devices/{address}',
  summary:
    'Rename a device, move it to another site, give it another address, retire it, or say how much and where to it may send',
  role: 'owner',
  at: 'device',
  params,
  body: Type.Partial(
    Type.Object({
      name: DeviceName,
      address: Address,
      siteId: Type.Integer(),
      place: Type.String({ maxLength: 120 }),
      constants: Constants,
      partNames: Type.Record(
        Type.String({ pattern: '^.{1,200}$' }),
        Type.String({ minLength: 1, maxLength: 60 }),
        {
          additionalProperties: false,
          maxProperties: 500,
          description: 'What its parts are called, by what the device calls them.',
        },
      ),
      isRetired: Type.Boolean({ description: 'Nothing is taken of what is retired; what is stored stays.' }),
      messagesPerMinute: statedAmount(1, 1_000_000),
      readingsPerMinute: statedAmount(1, 100_000_000),
      messageBytes: statedAmount(1, largestMessage),
      reach: Type.Array(Type.String({ minLength: 1, maxLength: 200 }), { maxItems: 50 }),
    }),
    { additionalProperties: false, minProperties: 1 },
  ),
  status: 204,
})

export const getDeviceLoss = defineRoute({
  method: 'get',
  path: '/api/devices/{address}/loss',
  summary: 'What deleting the device would take with it',
  role: 'owner',
  at: 'device',
  params,
  response: Type.Object({
    signals: Type.Integer(),
    readings: Type.Integer(),
    firstAt: Type.Union([Type.Integer(), Type.Null()]),
  }),
  status: 200,
})

export const deleteDevice = defineRoute({
  method: 'delete',
  path: '/api/devices/{address}',
  summary: 'Delete a device with its signals and readings',
  role: 'owner',
  at: 'device',
  params,
  status: 204,
})

export const replaceSecret = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/secret',
  summary: 'Give the device a new secret; the old one stops at once, or is good for a while yet',
  role: 'owner',
  at: 'device',
  params,
  query: Type.Object({
    overlap: Type.Optional(
      Type.Integer({
        minimum: 0,
        maximum: 604_800,
        description: 'How long the old one is good yet, seconds.',
      }),
    ),
  }),
  response: Type.Object({ secret: Type.String() }),
  status: 201,
})

const kitParams = Type.Object({ address: Type.String(), kitId: Type.Integer() })

/** What becomes of the signals of a device that is given another kit. */
export const KitExchange = Type.Object({
  carriedOn: Type.Array(
    Type.Object({
      name: Type.String(),
      becomes: Type.String({ description: 'What the other kit calls it.' }),
      isConverted: Type.Boolean({ description: 'Whether its values are told in another unit from then on.' }),
    }),
    { description: 'Of the same field, kind and dimension: their history goes on.' },
  ),
  former: Type.Array(Type.String(), { description: 'Nothing is added to them; they can be looked back at.' }),
  fresh: Type.Array(Type.String(), { description: 'The other kit has them, and the device had not.' }),
})
export type KitExchange = Static<typeof KitExchange>

export const previewKitExchange = defineRoute({
  method: 'get',
  path: '/api/devices/{address}/kit/{kitId}',
  summary: 'What would become of the signals of a device if it were given another kit',
  role: 'owner',
  at: 'device',
  params: kitParams,
  response: KitExchange,
  status: 200,
})

export const exchangeKit = defineRoute({
  method: 'put',
  path: '/api/devices/{address}/kit/{kitId}',
  summary: 'Give a device another kit: a board that was moved to another project',
  role: 'owner',
  at: 'device',
  params: kitParams,
  response: KitExchange,
  status: 200,
})

export const replaceHardware = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/hardware',
  summary:
    'Say that another board has taken its place: it gets a secret of its own, and the one before is good no more',
  role: 'owner',
  at: 'device',
  params,
  body: Type.Object(
    {
      endCalibrations: Type.Boolean({
        description:
          'Whether corrections were of the board before, and end now; what is stored stays corrected.',
      }),
    },
    { additionalProperties: false },
  ),
  response: Type.Object({ secret: Type.String() }),
  status: 200,
})
