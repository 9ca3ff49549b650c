import { type Static, Type } from '@sinclair/typebox'

/** A field that was not stored, with the reason in words for whoever wrote the firmware. */
export const Refused = Type.Object({
  field: Type.String({ description: 'JSON Pointer of the field in the body that was sent.' }),
  reason: Type.String(),
})

/** An error as RFC 9457 has it: what was wrong, where, and what to do. */
export const Problem = Type.Object(
  {
    type: Type.String({ description: 'Path of a page that explains this kind of problem.' }),
    title: Type.String(),
    status: Type.Integer(),
    detail: Type.String(),
    refused: Type.Optional(Type.Array(Refused)),
    errors: Type.Optional(
      Type.Array(Type.Object({ pointer: Type.String(), message: Type.String() }), {
        description: 'Which members of the request were wrong.',
      }),
    ),
  },
  { $id: 'Problem' },
)
export type Problem = Static<typeof Problem>

/** The answer to a message of which only a part could be stored. */
const bound = Type.Optional(Type.Number())
/** By what a board guards. */
const BoardGuard = Type.Object(
  {
    limits: Type.Record(
      Type.String(),
      Type.Object({
        lowLow: bound,
        low: bound,
        high: bound,
        highHigh: bound,
        deadband: Type.Number(),
        after: Type.Number({ description: 'How long it has to be beyond, seconds.' }),
        back: Type.Number({ description: 'How long it has to be back, seconds.' }),
      }),
      { description: 'By what the signal is called on the wire, in what the board sends.' },
    ),
    alarm: Type.Union([Type.String(), Type.Null()], {
      description: 'The highest priority of its alarms that nobody has seen: urgent, important or minor.',
    }),
  },
  { description: 'By what the device guards, where it asked with ?limits.' },
)

export const PartlyStored = Type.Object({
  stored: Type.Integer({ description: 'How many readings were stored.' }),
  refused: Type.Array(Refused),
  refusedTotal: Type.Integer({
    description: 'How many fields were refused; the list names the first hundred.',
  }),
  commands: Type.Optional(
    Type.Array(
      Type.Object({
        id: Type.Integer(),
        signal: Type.String({ description: 'What it is called on the wire, such as lamp/red.' }),
        value: Type.Unknown(),
        until: Type.Integer({ description: 'When it ceases to hold, epoch milliseconds.' }),
      }),
      { description: 'What waits for the device, where it asked with ?commands.' },
    ),
  ),
  guard: Type.Optional(BoardGuard),
})
export type PartlyStored = Static<typeof PartlyStored>

/** Every kind of problem the program answers with, and what it means. */
export const problems = {
  'not-signed-in': { status: 401, title: 'Not signed in' },
  'wrong-password': { status: 401, title: 'Name and password do not match' },
  'link-spent': { status: 401, title: 'This link no longer works' },
  'wrong-token': { status: 401, title: 'This token does not work' },
  'no-credential': { status: 401, title: 'The device credential is missing' },
  'unknown-device': { status: 401, title: 'No such device' },
  'wrong-secret': { status: 401, title: 'Wrong secret' },
  retired: { status: 403, title: 'The device was retired' },
  'foreign-host': { status: 421, title: 'Not a name of this server' },
  'not-allowed': { status: 403, title: 'Not allowed' },
  'foreign-request': { status: 403, title: 'Request from elsewhere' },
  'not-encrypted': { status: 403, title: 'Not without TLS' },
  'not-found': { status: 404, title: 'Not found' },
  'method-not-allowed': { status: 405, title: 'Wrong method' },
  conflict: { status: 409, title: 'In conflict with what is there' },
  'too-large': { status: 413, title: 'The body is too large' },
  'unknown-media-type': { status: 415, title: 'This content type is not understood' },
  'not-json': { status: 400, title: 'The body cannot be read' },
  invalid: { status: 400, title: 'The request is not valid' },
  'nothing-stored': { status: 422, title: 'Nothing in the message could be stored' },
  'too-many-attempts': { status: 429, title: 'Too many attempts' },
  throttled: { status: 429, title: 'More than this device may send' },
  'store-away': { status: 503, title: 'The database is away' },
  overloaded: { status: 503, title: 'Too much at once' },
  internal: { status: 500, title: 'Something went wrong in the server' },
} as const
export type ProblemKind = keyof typeof problems
