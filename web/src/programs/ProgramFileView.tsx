import type { ProgramFile } from '@jaunty-sparrow/core/program'
import { Download } from 'lucide-react'
import { Button } from '../design/Button.tsx'
import { saveFile } from '../design/saveFile.ts'

/** A file of a program, to be read and kept. */
export function ProgramFileView({ file: { name, text, isSecret } }: { readonly file: ProgramFile }) {
  return (
    <section aria-label={name} className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
      <div className="flex items-center gap-2">
        <h3 className="flex-1 font-mono text-sm font-semibold">
          {name}
          {isSecret && <span className="ml-2 font-sans font-normal text-ink-soft">keep it to yourself</span>}
        </h3>
        <Button weight="quiet" onClick={() => saveFile(name, 'text/plain', text)}>
          <Download aria-hidden="true" className="size-4" />
          Keep it
        </Button>
      </div>
      <pre
        className="max-h-72 overflow-auto rounded-md bg-well p-3 font-mono text-xs select-all"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by the keyboard
        tabIndex={0}
      >
        {text}
      </pre>
    </section>
  )
}
