import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'

const stated = {
  path: Type.String({ minLength: 1, maxLength: 200, description: 'Such as /dev/ttyUSB0 or COM3.' }),
  speed: Type.Integer({ minimum: 50, maximum: 4_000_000, description: 'Baud.' }),
  csvHeader: Type.Union([Type.String({ minLength: 1, maxLength: 500, pattern: '\\S' }), Type.Null()], {
    description:
      'Names for the values of a line, such as temperature,humidity; null when lines name them themselves.',
  }),
}

export const SerialState = Type.Union([
  Type.Literal('listening'),
  Type.Literal('garbled'),
  Type.Literal('busy'),
  Type.Literal('missing'),
  Type.Literal('denied'),
  Type.Literal('failed'),
  Type.Literal('elsewhere'),
  Type.Literal('paused'),
])
export type SerialState = Static<typeof SerialState>

/** The serial line of a device, and how it is doing. */
export const SerialLine = Type.Object({
  ...stated,
  state: SerialState,
  says: Type.String({ description: 'The state in words, with what to do about it.' }),
  pausedUntil: Type.Union([Type.Integer(), Type.Null()], {
    description: 'When it is taken up again by itself, epoch milliseconds; null where it is not paused.',
  }),
})
export type SerialLine = Static<typeof SerialLine>

export const listSerialPorts = defineRoute({
  method: 'get',
  path: '/api/serial-ports',
  summary: 'The serial ports of this machine',
  role: 'owner',
  at: 'everywhere',
  response: Type.Array(
    Type.Object({
      path: Type.String(),
      maker: Type.Union([Type.String(), Type.Null()]),
    }),
  ),
  status: 200,
})

const params = Type.Object({ address: Type.String() })

export const setSerialPort = defineRoute({
  method: 'put',
  path: '/api/devices/{address}/serial',
  summary: 'Listen to a serial port for this device',
  role: 'owner',
  at: 'everywhere',
  params,
  body: Type.Object(stated, { additionalProperties: false }),
  status: 204,
})

export const removeSerialPort = defineRoute({
  method: 'delete',
  path: '/api/devices/{address}/serial',
  summary: 'Let go of the serial port of this device',
  role: 'owner',
  at: 'everywhere',
  params,
  status: 204,
})

/** Flashing takes minutes; a pause that was forgotten ends by itself. */
export const longestSerialPause = 3600

export const pauseSerialPort = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/serial/pause',
  summary:
    'Let another program have the serial port for a while, such as one that flashes the board, or take it up again',
  role: 'owner',
  at: 'device',
  params,
  body: Type.Object(
    {
      seconds: Type.Integer({
        minimum: 0,
        maximum: longestSerialPause,
        description: 'For so long; 0 takes it up again now.',
      }),
    },
    { additionalProperties: false },
  ),
  status: 204,
})
