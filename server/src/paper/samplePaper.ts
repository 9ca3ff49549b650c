import type { Instrument } from '@jaunty-sparrow/drawings/instrument'
import type { PageChapter, PageInstrument } from '@jaunty-sparrow/drawings/page'
import { instrumentOf } from '@jaunty-sparrow/drawings/registry'
import { type SampleState, sampleOf } from '@jaunty-sparrow/drawings/samples'
import type { Greys } from './greyPicture.tsx'
import { paperPicture } from './paperPicture.tsx'

const drawn = (
  kind: string,
  title: string,
  importance: PageInstrument['importance'],
  state: SampleState = 'at rest',
): PageInstrument => {
  const instrument = instrumentOf(kind) as Instrument
  const { width: _, ...shown } = sampleOf(instrument, state, 200)
  return { key: `${kind} ${title}`, title, importance, instrument, shown }
}

const chapters: readonly PageChapter[] = [
  {
    key: 'rooms',
    title: 'Rooms',
    instruments: [
      drawn('scale', 'Upper room', 'normal'),
      drawn('scale', 'Lower room', 'normal', 'beyond limit'),
      drawn('states', 'Door', 'normal', 'late'),
      drawn('value', 'Cellar', 'normal'),
      drawn('course', 'An hour', 'large'),
    ],
  },
]

/** A page of made-up values that are always the same, as a display of paper has it. */
export const samplePaper = (greys: Greys): Uint8Array =>
  paperPicture({ title: 'The house', aside: 'Thu 14:19', chapters, width: 400, height: 300 }, greys)
