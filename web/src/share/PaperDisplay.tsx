import { paperProgram } from '@jaunty-sparrow/core/program'
import { useState } from 'react'
import { CopyLine } from '../design/CopyLine.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { ProgramFileView } from '../programs/ProgramFileView.tsx'

/** What a display can have of what was typed, px. */
const within = (typed: string, least: number): number =>
  Math.min(1600, Math.max(least, Math.round(Number(typed)) || least))

/** The page as a still picture by its address, and the program of a display of paper that shows it. */
export function PaperDisplay({ url, token }: { readonly url: string; readonly token: string }) {
  const [across, setAcross] = useState('400')
  const [down, setDown] = useState('300')
  const [greys, setGreys] = useState<2 | 4>(2)
  const size = { width: within(across, 100), height: within(down, 80) }
  return (
    <details className="w-full border-t border-rule pt-3">
      <summary className="cursor-pointer text-sm font-semibold text-chestnut">
        A still picture of it, for a display of paper
      </summary>
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-4">
        <div className="grid grid-cols-[1fr_1fr_1.6fr] gap-3">
          <TextField
            label="Pixels across"
            type="number"
            min={100}
            max={1600}
            value={across}
            onChange={({ target }) => setAcross(target.value)}
          />
          <TextField
            label="And down"
            type="number"
            min={80}
            max={1600}
            value={down}
            onChange={({ target }) => setDown(target.value)}
          />
          <ChoiceField
            label="In"
            value={String(greys)}
            onChange={({ target }) => setGreys(target.value === '4' ? 4 : 2)}
          >
            <option value="2">black and white</option>
            <option value="4">four greys</option>
          </ChoiceField>
        </div>
        <CopyLine
          text={`${url}/api/shared/${token}/paper.png?width=${size.width}&height=${size.height}&greys=${greys}`}
          label="address of the picture"
        />
        <p className="text-sm text-ink-soft">
          The program of a display with MicroPython 1.21 or later: it asks once, shows what came, and sleeps
          until there is something new. Copy both files onto it, and fill in how your display takes its rows.
        </p>
        {paperProgram({ url, token, ...size, greys }).map((file) => (
          <ProgramFileView key={file.name} file={file} />
        ))}
      </div>
    </details>
  )
}
