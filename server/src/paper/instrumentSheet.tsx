import type { Instrument } from '@jaunty-sparrow/drawings/instrument'
import { sampleOf, sampleStates } from '@jaunty-sparrow/drawings/samples'
import { greyPicture } from './greyPicture.tsx'

const margin = 12
const between = 22
const titleHeight = 18

/** An instrument in every state it has a look for, as one picture that is always the same. @returns a PNG */
export function instrumentSheet(instrument: Instrument): Uint8Array {
  const isWide = instrument.importance === 'large'
  const [width, columns] = isWide ? [380, 2] : [220, 3]
  const shown = sampleStates.map((state) => ({ state, shown: sampleOf(instrument, state, width) }))
  const rowHeight = Math.max(...shown.map((each) => instrument.height(each.shown))) + titleHeight + between
  const rows = Math.ceil(shown.length / columns)
  return greyPicture({
    title: instrument.name,
    width: 2 * margin + columns * width + (columns - 1) * between,
    height: Math.ceil(2 * margin + rows * rowHeight - between),
    greys: 4,
    drawn: shown.map(({ state, shown: each }, place) => (
      <g
        key={state}
        transform={`translate(${margin + (place % columns) * (width + between)} ${margin + Math.floor(place / columns) * rowHeight})`}
      >
        <text y={10} fontSize={11} fill="var(--ink-soft)">
          {state}
        </text>
        <g transform={`translate(0 ${titleHeight})`}>
          <instrument.Drawing {...each} />
        </g>
      </g>
    )),
  })
}
