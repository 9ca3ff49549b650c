import type { Setting } from '@jaunty-sparrow/drawings/instrument'
import { instruments } from '@jaunty-sparrow/drawings/registry'

/** The page that tells of all instruments, written from the registry. */
export const instrumentDocs = (): string =>
  [
    '# Instruments',
    '',
    'Made by `npm run docs` from the instruments themselves: each is one folder in `drawings/src` and one line in its registry.',
    'A dashboard that is kept names an instrument by its kind, and holds what is set of it; docs/dashboard.schema.json has the rest.',
    'The pictures show each in every state it has a look for; on the screen late is ochre, and trouble red.',
    '',
    ...instruments.flatMap(({ kind, name, purpose, takes, importance, settings }) => [
      `## ${name}`,
      '',
      purpose,
      '',
      `Kind \`${kind}\`; takes ${takes.most === 1 ? 'one signal' : `up to ${takes.most} signals`} (${takes.kinds.join(', ')}); proposed as ${importance}.`,
      '',
      ...(Object.keys(settings).length > 0
        ? [
            '| setting | is | usually |',
            '| --- | --- | --- |',
            ...Object.entries(settings).map(
              ([key, setting]) =>
                `| \`${key}\` | ${setting.title}: ${valuesOf(setting)} | ${usualOf(setting)} |`,
            ),
            '',
          ]
        : []),
      `![${name} in every state](instruments/${kind}.png)`,
      '',
    ]),
  ].join('\n')

const valuesOf = (setting: Setting): string =>
  Array.isArray(setting.enum) ? setting.enum.map((word) => `\`${word}\``).join(', ') : setting.type

const usualOf = ({ default: usual }: Setting): string =>
  usual === '' || (Array.isArray(usual) && usual.length === 0) ? 'nothing' : `\`${String(usual)}\``
