import { Check, Copy } from 'lucide-react'
import { useState } from 'react'
import { Button } from './Button.tsx'

/** A line to be pasted elsewhere, whole, with a button that copies it. */
export function CopyLine({ text, label }: { text: string; label: string }) {
  const [copied, setCopied] = useState(false)
  const copy = async () => {
    await navigator.clipboard.writeText(text)
    setCopied(true)
  }
  return (
    <div className="grid gap-2 rounded-md border border-rule bg-well p-3 sm:grid-cols-[1fr_auto] sm:items-center">
      <code
        className="font-mono text-[0.8125rem] leading-relaxed break-all whitespace-pre-wrap select-all"
        data-testid={label}
      >
        {text}
      </code>
      {/* Browsers let a page copy on HTTPS and on this machine only; elsewhere one click selects the line. */}
      {window.isSecureContext && (
        <Button onClick={() => void copy()} aria-label={`Copy ${label}`}>
          {copied ? (
            <Check aria-hidden="true" className="size-4" />
          ) : (
            <Copy aria-hidden="true" className="size-4" />
          )}
          {copied ? 'Copied' : 'Copy'}
        </Button>
      )}
    </div>
  )
}
