import { type Static, Type } from '@sinclair/typebox'
import { defineRoute } from './route.ts'
import { Constants, NewSignalDefinition, SignalDefinition, StatedCadence } from './signal.ts'

const KitName = Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' })
const params = Type.Object({ kitId: Type.Integer() })

/** One wire of a board: from a pin of it to a part. */
const Wire = Type.Object(
  {
    pin: Type.String({ minLength: 1, maxLength: 40 }),
    wire: Type.String({ maxLength: 40, description: 'Its colour, or whatever tells it from others.' }),
    part: Type.String({ maxLength: 80 }),
  },
  { additionalProperties: false },
)
export type Wire = Static<typeof Wire>

/** So long may a picture be as it is sent, characters: a third more than its bytes. */
export const longestPicture = 1_000_000

const built = {
  picture: Type.Union(
    [
      Type.String({
        maxLength: longestPicture,
        pattern: '^data:image/(png|jpeg|webp);base64,[A-Za-z0-9+/=]+$',
      }),
      Type.Null(),
    ],
    { description: 'How it looks, as a data URL (RFC 2397) of a PNG, JPEG or WebP.' },
  ),
  notes: Type.String({ maxLength: 4000, description: 'How it must hang, what to mind.' }),
  wiring: Type.Array(Wire, { maxItems: 64 }),
}

/** A kind of device, in short. */
export const KitInShort = Type.Object({
  id: Type.Integer(),
  name: Type.Union([Type.String(), Type.Null()], {
    description: 'Null for the own kit of a one-off device.',
  }),
  cadence: StatedCadence,
  constants: Constants,
  devices: Type.Array(Type.String(), { description: 'The addresses of the devices it reaches.' }),
})
export type KitInShort = Static<typeof KitInShort>

export const Kit = Type.Object({ ...KitInShort.properties, ...built, signals: Type.Array(SignalDefinition) })
export type Kit = Static<typeof Kit>

export const listKits = defineRoute({
  method: 'get',
  path: '/api/kits',
  summary: 'All kits, by name, with the devices each reaches',
  role: 'viewer',
  at: 'somewhere',
  response: Type.Array(KitInShort),
  status: 200,
})

export const getKit = defineRoute({
  method: 'get',
  path: '/api/kits/{kitId}',
  summary: 'A kit with its signals, in their order',
  role: 'viewer',
  at: 'kit',
  params,
  response: Kit,
  status: 200,
})

export const createKit = defineRoute({
  method: 'post',
  path: '/api/kits',
  summary: 'Describe a kind of device: its signals and how often it speaks',
  role: 'owner',
  at: 'somewhere',
  body: Type.Object(
    {
      name: KitName,
      cadence: StatedCadence,
      constants: Type.Optional(Constants),
      ...Type.Partial(Type.Object(built)).properties,
      signals: Type.Array(NewSignalDefinition, { maxItems: 200 }),
    },
    { additionalProperties: false },
  ),
  response: Kit,
  status: 201,
})

/** A kit as it travels: one JSON file, checked by this schema. */
export const kitFileSchema: Readonly<Record<string, unknown>> = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'A kit of Jaunty Sparrow',
  description: 'What a kind of device is made of.',
  ...createKit.body,
}

export const changeKit = defineRoute({
  method: 'patch',
  path: '/api/kits/{kitId}',
  summary:
    'Name a kit, say how often its devices speak, what its constants are, how it is wired; reaches all of them',
  role: 'owner',
  at: 'kit',
  params,
  body: Type.Partial(
    Type.Object({
      name: Type.Union([KitName, Type.Null()]),
      cadence: StatedCadence,
      constants: Constants,
      ...built,
    }),
    { additionalProperties: false, minProperties: 1 },
  ),
  status: 204,
})

export const deleteKit = defineRoute({
  method: 'delete',
  path: '/api/kits/{kitId}',
  summary: 'Delete a kit that no device is made of',
  role: 'owner',
  at: 'kit',
  params,
  status: 204,
})

export const addSignalDefinition = defineRoute({
  method: 'post',
  path: '/api/kits/{kitId}/signals',
  summary: 'Add a signal to a kit, and so to each of its devices',
  role: 'owner',
  at: 'kit',
  params,
  body: NewSignalDefinition,
  response: SignalDefinition,
  status: 201,
})
