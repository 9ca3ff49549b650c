import type { BodyOf, routes } from '@jaunty-sparrow/contract'

type Way = BodyOf<typeof routes.createWay>

const always = { days: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 0, wait: 0 }

/** Who is told at the creamery. @param sinkUrl where calls of webhooks end; empty for none */
export const waysOf = (siteId: number, sinkUrl: string): Way[] => [
  {
    siteId,
    kind: 'mail',
    name: 'Moira Fenn',
    target: 'moira@brackenfold.example',
    tellings: [
      { ...always, priorities: ['urgent'] },
      { ...always, priorities: ['important'], from: 6 * 60, to: 21 * 60 },
    ],
  },
  {
    siteId,
    kind: 'mail',
    name: 'Tobias Rook, when nobody answers',
    target: 'tobias@brackenfold.example',
    tellings: [{ ...always, priorities: ['urgent', 'important'], wait: 900 }],
  },
  ...(sinkUrl === ''
    ? []
    : [
        {
          siteId,
          kind: 'webhook' as const,
          name: 'The bell in the yard',
          target: `${sinkUrl}bell`,
          tellings: [{ ...always, priorities: ['urgent', 'important', 'minor'] }],
        } satisfies Way,
      ]),
]
