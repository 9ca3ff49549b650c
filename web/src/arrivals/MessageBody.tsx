import type { ExplainedField } from '@jaunty-sparrow/contract'
import { Tabs } from 'radix-ui'
import { FieldTree } from './FieldTree.tsx'

const shownBytes = 16 * 1024

interface MessageBodyProps {
  readonly base64: string
  /** What was found in it; empty when it could not be read. */
  readonly fields: readonly ExplainedField[]
}

const names = { text: 'Text', tree: 'Tree', hex: 'Hex' }

/** The bytes of a message, as text, as the tree of its fields, and as hexadecimal. */
export function MessageBody({ base64, fields }: MessageBodyProps) {
  const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0))
  const shown = bytes.subarray(0, shownBytes)
  if (bytes.length === 0)
    return (
      <p className="text-sm text-ink-soft">No bytes were kept: it was turned away before they were read.</p>
    )
  const box =
    'max-h-64 overflow-auto rounded-md border border-rule bg-well p-3 font-mono text-[0.8125rem] leading-relaxed'
  return (
    <Tabs.Root defaultValue="text" className="grid gap-2">
      <Tabs.List aria-label="How the bytes are shown" className="flex gap-1">
        {(['text', 'tree', 'hex'] as const).map((kind) => (
          <Tabs.Trigger
            key={kind}
            value={kind}
            className="rounded-md px-2.5 py-1 text-sm text-ink-soft hover:bg-well data-[state=active]:bg-well data-[state=active]:font-semibold data-[state=active]:text-ink"
          >
            {names[kind]}
          </Tabs.Trigger>
        ))}
        <span className="ml-auto self-center text-sm text-ink-soft">{bytes.length} bytes</span>
      </Tabs.List>
      <Tabs.Content value="text" tabIndex={0} className={`${box} break-all whitespace-pre-wrap`}>
        {new TextDecoder().decode(shown)}
      </Tabs.Content>
      <Tabs.Content value="tree" tabIndex={0} className={box}>
        {fields.length > 0 ? <FieldTree fields={fields} /> : 'No fields were found in it.'}
      </Tabs.Content>
      <Tabs.Content value="hex" tabIndex={0} className={`${box} whitespace-pre`}>
        {hexLines(shown)}
      </Tabs.Content>
      {bytes.length > shownBytes && (
        <p className="text-sm text-ink-soft">The first {shownBytes / 1024} KiB are shown.</p>
      )}
    </Tabs.Root>
  )
}

/** Sixteen bytes a line, with the place of the first and what can be printed of them. */
function hexLines(bytes: Uint8Array): string {
  const lines: string[] = []
  for (let start = 0; start < bytes.length; start += 16) {
    const line = [...bytes.subarray(start, start + 16)]
    const hex = line.map((byte) => byte.toString(16).padStart(2, '0')).join(' ')
    const text = line.map((byte) => (byte >= 32 && byte < 127 ? String.fromCharCode(byte) : '·')).join('')
    lines.push(`${start.toString(16).padStart(4, '0')}  ${hex.padEnd(47)}  ${text}`)
  }
  return lines.join('\n')
}
