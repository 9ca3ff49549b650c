import type { ReactNode } from 'react'
import { Beak, Notches } from './marks.tsx'
import type { ScaleProps } from './Scale.tsx'

/** How far round it goes, degrees to both sides of up. */
const reach = 120
const band = 6

/** How high it is, px, when it is so wide. */
export const dialHeight = (width: number): number => Math.round(radiusOf(width) * 1.5 + 34)
const radiusOf = (width: number): number => Math.min(92, width / 2 - 26)

/** The ruled scale bent round: the same ticks, hatching, notches and beaks. */
export function Dial({ low, high, ticks, limits, value, before, span, width }: ScaleProps): ReactNode {
  const radius = radiusOf(width)
  const turn = (at: number) => ((Math.min(high, Math.max(low, at)) - low) / (high - low)) * 2 * reach - reach
  const place = (at: number, from: number) => {
    const angle = (turn(at) * Math.PI) / 180
    return `${(Math.sin(angle) * from).toFixed(2)} ${(-Math.cos(angle) * from).toFixed(2)}`
  }
  const arc = (from: number, to: number, r: number) =>
    `M${place(from, r)}A${r} ${r} 0 ${turn(to) - turn(from) > 180 ? 1 : 0} 1 ${place(to, r)}`
  const hatched = (from: number, to: number) => {
    const steps = Math.floor((turn(to) - turn(from)) / 3)
    return Array.from({ length: Math.max(0, steps) }, (_, step) => {
      const at = from + ((step + 0.3) / steps) * (to - from)
      const next = from + ((step + 0.9) / steps) * (to - from)
      return `M${place(at, radius)}L${place(Math.min(next, to), radius + band)}`
    }).join('')
  }
  const turned = (at: number) => `rotate(${turn(at).toFixed(2)}) translate(0 ${-radius})`
  const floor = limits?.low ?? limits?.lowLow ?? null
  const ceiling = limits?.high ?? limits?.highHigh ?? null
  return (
    <g transform={`translate(${width / 2} ${radius + 22})`}>
      {span && (
        <path
          data-span
          d={arc(span.low, Math.max(span.high, span.low + (high - low) / 200), radius + band / 2)}
          fill="none"
          stroke="var(--rule)"
          strokeWidth={band}
        />
      )}
      {floor !== null && floor > low && (
        <path data-beyond="low" d={hatched(low, floor)} stroke="var(--ink-soft)" strokeWidth={0.75} />
      )}
      {ceiling !== null && ceiling < high && (
        <path data-beyond="high" d={hatched(ceiling, high)} stroke="var(--ink-soft)" strokeWidth={0.75} />
      )}
      <path d={arc(low, high, radius)} fill="none" stroke="var(--ink)" />
      {ticks.map(({ value: at, label }) => {
        const [x = '0', y = '0'] = place(at, radius - 16).split(' ')
        return (
          <g key={at}>
            <path d={`M${place(at, radius)}L${place(at, radius - 5)}`} stroke="var(--ink)" />
            <text x={x} y={Number(y) + 4} textAnchor="middle" fontSize={11} fill="var(--ink-soft)">
              {label}
            </text>
          </g>
        )
      })}
      <Notches limits={limits} place={turned} />
      {before !== undefined && <Beak at={turned(before)} isNow={false} />}
      {value !== undefined && <Beak at={turned(value)} isNow />}
    </g>
  )
}
