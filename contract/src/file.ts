import { type Static, type TSchema, Type } from '@sinclair/typebox'
import { Refused } from './problem.ts'
import { defineRoute } from './route.ts'

/** A file comes in pieces of at most this many characters, each of whole rows. */
export const largestPiece = 2 * 1024 * 1024

export const importFile = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/file',
  summary: 'Store a piece of a file of past readings; a piece that is sent again changes nothing',
  role: 'owner',
  at: 'device',
  params: Type.Object({ address: Type.String() }),
  body: Type.Object(
    {
      mediaType: Type.Union([Type.Literal('text/csv'), Type.Literal('application/senml+json')]),
      text: Type.String({ minLength: 1, maxLength: largestPiece }),
    },
    { additionalProperties: false },
  ),
  response: Type.Object({
    stored: Type.Integer({ description: 'How many readings were stored now.' }),
    alreadyThere: Type.Integer({ description: 'How many were there already, or twice in the piece.' }),
    refused: Type.Array(Refused),
    refusedTotal: Type.Integer({
      description: 'How many fields were refused; the list names the first hundred.',
    }),
  }),
  status: 200,
})

const stated = <T extends TSchema>(schema: T) => Type.Optional(schema)

/** How a whole file is to be read; what is not stated is found out from its beginning. */
export const FileReading = Type.Object(
  {
    columns: stated(
      Type.String({
        maxLength: 4000,
        description:
          'What each column is, with commas between: time, - for left out, or a field such as /rh. Else by their names.',
      }),
    ),
    timeFormat: stated(
      Type.Union([
        Type.Literal('zoned'),
        Type.Literal('epoch'),
        Type.Literal('year-first'),
        Type.Literal('day-first'),
        Type.Literal('month-first'),
      ]),
    ),
    zone: stated(
      Type.String({
        maxLength: 60,
        description: 'IANA name or fixed offset such as +01:00; else that of the site.',
      }),
    ),
    order: stated(Type.Union([Type.Literal('oldest-first'), Type.Literal('newest-first')])),
    delimiter: stated(Type.Union([Type.Literal(','), Type.Literal(';'), Type.Literal('tab')])),
    decimal: stated(Type.Union([Type.Literal('.'), Type.Literal(',')])),
    point: stated(
      Type.Union([Type.Literal('thousands'), Type.Literal('decimals')], {
        description: 'What a point is where decimals have a comma and nothing in a column tells.',
      }),
    ),
    encoding: stated(Type.Union([Type.Literal('utf-8'), Type.Literal('windows-1252')])),
    linesAbove: stated(Type.Integer({ minimum: 0, maximum: 1000 })),
  },
  { additionalProperties: false },
)
export type FileReading = Static<typeof FileReading>

export const storeFile = defineRoute({
  method: 'put',
  path: '/api/devices/{address}/file',
  summary:
    'Store a whole file of past readings, CSV or SenML in JSON, which is the body; how it is read stands in the query. Bringing it again changes nothing',
  role: 'owner',
  at: 'device',
  params: Type.Object({ address: Type.String() }),
  query: FileReading,
  response: Type.Object({
    stored: Type.Integer({ description: 'How many readings were stored now.' }),
    alreadyThere: Type.Integer({ description: 'How many were there already, or twice in the file.' }),
    refused: Type.Array(
      Type.Object({
        line: Type.Integer({ description: 'The line in the file, or with SenML the record; from 1.' }),
        reason: Type.String(),
      }),
    ),
    refusedTotal: Type.Integer({ description: 'The list names the first hundred.' }),
    reading: FileReading,
  }),
  status: 200,
})
