import { generate } from 'lean-qr'
import { toSvgPath } from 'lean-qr/extras/svg'
import { useMemo } from 'react'

/** Modules of quiet around it, as the standard asks for (ISO/IEC 18004). */
const quiet = 4

/** An address to be scanned with a phone; dark on light in both themes, as scanners want it. */
export function QrCode({ text, label }: { text: string; label: string }) {
  const code = useMemo(() => generate(text), [text])
  const size = code.size + 2 * quiet
  return (
    <svg
      viewBox={`${-quiet} ${-quiet} ${size} ${size}`}
      className="size-44 rounded-md border border-rule bg-white"
      role="img"
      aria-label={label}
      shapeRendering="crispEdges"
    >
      <path d={toSvgPath(code)} fill="black" />
    </svg>
  )
}
