import { Type } from '@sinclair/typebox'
import { Refused } from './problem.ts'
import { defineRoute } from './route.ts'

/** A file comes in pieces of at most this many characters, each of whole rows. */
export const largestPiece = 2 * 1024 * 1024

export const importFile = defineRoute({
  method: 'post',
  path: '/api/devices/{address}/file',
  summary: 'Store a piece of a file of past readings; a piece that is sent again changes nothing',
  role: 'owner',
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
