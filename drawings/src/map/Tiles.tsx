import type { Shown } from '../instrument/index.ts'
import { type Sight, tilesOf } from './mercator.ts'

interface TilesProps {
  readonly tiles: NonNullable<Shown['tiles']>
  readonly sight: Sight
  /** px */
  readonly width: number
  readonly height: number
}

/** A map of others under one's own places, without its colours: those mean states here. */
export const Tiles = ({ tiles: { address, credit }, sight, width, height }: TilesProps) => (
  <g data-tiles>
    <g style={{ filter: 'grayscale(1)' }} opacity={0.55}>
      {tilesOf(sight, width, height).map(({ zoom, column, row, x, y, size }) => (
        <image
          key={`${zoom} ${column} ${row}`}
          href={address
            .replace('{z}', String(zoom))
            .replace('{x}', String(column))
            .replace('{y}', String(row))}
          x={x}
          y={y}
          width={size}
          height={size}
        />
      ))}
    </g>
    <text x={width - 8} y={height - 8} textAnchor="end" fontSize={11} fill="var(--ink-soft)">
      {credit}
    </text>
  </g>
)
