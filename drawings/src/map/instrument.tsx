import { isPosition } from '@jaunty-sparrow/core/signal'
import { useMemo } from 'react'
import {
  choice,
  defineInstrument,
  fitText,
  inks,
  number,
  type Shown,
  type ShownSignal,
  standingOf,
  textWidth,
  words,
} from '../instrument/index.ts'
import { type GroundLine, groundOf } from './ground.ts'
import { type Place, type Sight, sightOf } from './mercator.ts'
import { Tiles } from './Tiles.tsx'

const heights = { low: 180, usual: 260, high: 420 } as const

export const map = defineInstrument({
  kind: 'map',
  name: 'Map',
  purpose: 'Where things are and were, on a ground of your own.',
  settings: {
    track: choice(
      'Where it was',
      { none: 'not drawn', hour: 'of an hour', day: 'of a day', week: 'of a week' },
      'day',
    ),
    height: choice('Height', { low: 'low', usual: 'usual', high: 'high' }, 'usual'),
    ground: words('Ground, GeoJSON', '', 300_000, {
      editor: 'lines',
      description:
        'Outlines and ways of the place (RFC 7946). Without it and a picture, the map of the server lies under it, or a net of lines.',
    }),
    picture: words('Or a picture from above', '', 400_000, {
      pattern: '^(?:data:image/(?:png|jpeg|webp);base64,[A-Za-z0-9+/=]*)?$',
      editor: 'picture',
    }),
    ratio: number('Width to height', 1.6, { minimum: 0.1, maximum: 10, editor: 'none' }),
    north: number('Its upper edge, latitude', 0, { minimum: -85, maximum: 85 }),
    south: number('Its lower edge, latitude', 0, { minimum: -85, maximum: 85 }),
    west: number('Its left edge, longitude', 0, { minimum: -180, maximum: 180 }),
    east: number('Its right edge, longitude', 0, { minimum: -180, maximum: 180 }),
  },
  takes: { kinds: ['position'], most: 12 },
  fit: ({ kind }) => (kind === 'position' ? 0.8 : 0),
  importance: 'large',
  needs: ({ track }) => ({
    tiles: true,
    ...(track !== 'none' && { readings: { most: 300, span: track } }),
  }),
  height: ({ settings }) => heights[settings.height],
  Drawing: (shown) => {
    const height = heights[shown.settings.height]
    // Read once, and not again with each value that comes.
    const ground = useMemo(() => groundOf(shown.settings.ground), [shown.settings.ground])
    const here = shown.signals.flatMap((signal) => placeOf(signal) ?? [])
    const picture = pictureOf(shown.settings)
    const tracks = shown.settings.track === 'none' ? [] : shown.signals.map(trackOf)
    const all = [
      ...ground.flatMap(({ places }) => places),
      ...(picture?.corners ?? []),
      ...tracks.flat(),
      ...here,
    ]
    if (all.length === 0)
      return (
        <text y={20} fontSize={13} fill="var(--ink-soft)">
          Nobody has said yet where it is.
        </text>
      )
    const sight = sightOf(all, shown.width, height)
    return (
      <g>
        <rect
          x={0.5}
          y={0.5}
          width={shown.width - 1}
          height={height - 1}
          fill="none"
          stroke="var(--rule-strong)"
        />
        {ground.length === 0 && !picture && <Net sight={sight} width={shown.width} height={height} />}
        <svg width={shown.width} height={height} aria-hidden="true">
          {ground.length === 0 && !picture && shown.tiles && (
            <Tiles tiles={shown.tiles} sight={sight} width={shown.width} height={height} />
          )}
          {picture && <Ground {...picture} sight={sight} />}
          {ground.map((line, place) => (
            <path
              // biome-ignore lint/suspicious/noArrayIndexKey: a line is what it is by its place
              key={place}
              data-ground
              d={pathOf(line, sight)}
              fill={line.isClosed ? 'var(--well)' : 'none'}
              stroke="var(--rule-strong)"
            />
          ))}
          {tracks.map((places, place) => (
            <path
              key={shown.signals[place]?.id}
              data-track={shown.signals[place]?.id}
              d={places.length > 1 ? pathOf({ places, isClosed: false }, sight) : undefined}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.25}
              strokeDasharray={dashes[place % dashes.length]}
              strokeLinejoin="round"
            />
          ))}
          {shown.signals.map((signal) => (
            <Here key={signal.id} signal={signal} shown={shown} sight={sight} />
          ))}
        </svg>
        <Ruler scale={sight.scale} y={height - 12} />
      </g>
    )
  },
})

const placeOf = ({ latest }: ShownSignal): Place | undefined =>
  latest && isPosition(latest.value) ? latest.value : undefined

/** The tracks of several are told apart by their dashes. */
const dashes = [undefined, '6 3', '1.5 3'] as const

const trackOf = ({ readings }: ShownSignal): Place[] =>
  readings.flatMap(({ value, fault }) => (fault === null && isPosition(value) ? value : []))

interface Picture {
  readonly href: string
  readonly corners: readonly [northWest: Place, southEast: Place]
}

/** A picture that lies under the map; nothing until somebody said where its edges are. */
const pictureOf = ({
  picture: href,
  north,
  south,
  west,
  east,
}: {
  readonly picture: string
  readonly north: number
  readonly south: number
  readonly west: number
  readonly east: number
}): Picture | undefined =>
  href !== '' && north > south && east > west
    ? {
        href,
        corners: [
          { lat: north, lon: west },
          { lat: south, lon: east },
        ],
      }
    : undefined

function Ground({ href, corners: [northWest, southEast], sight }: Picture & { readonly sight: Sight }) {
  const [left, top] = sight.to(northWest)
  const [right, bottom] = sight.to(southEast)
  return (
    <image
      data-picture
      href={href}
      x={left}
      y={top}
      width={right - left}
      height={bottom - top}
      preserveAspectRatio="none"
    />
  )
}

const pathOf = ({ places, isClosed }: GroundLine, { to }: Sight): string =>
  `M${places
    .map((place) =>
      to(place)
        .map((at) => at.toFixed(1))
        .join(' '),
    )
    .join('L')}${isClosed ? 'Z' : ''}`

function Here({
  signal,
  shown,
  sight,
}: {
  readonly signal: ShownSignal
  readonly shown: Shown
  readonly sight: Sight
}) {
  const place = placeOf(signal)
  if (!place) return null
  const [x, y] = sight.to(place)
  const { tone, words } = standingOf(signal, shown.now, shown.writing)
  const says = [signal.device, ...words].join(', ')
  // What it is called stands on the side on which there is room.
  const isLeft = textWidth(says, 13) > shown.width - x - 14 && x > shown.width / 2
  return (
    <g transform={`translate(${x.toFixed(1)} ${y.toFixed(1)})`} data-here={signal.id}>
      <path d="M0 0L-7 -16L0 -12L7 -16Z" fill={inks[tone]} />
      <text
        x={isLeft ? -11 : 11}
        y={-5}
        textAnchor={isLeft ? 'end' : 'start'}
        fontSize={13}
        fontWeight={600}
        fill={inks[tone]}
        data-value={signal.id}
      >
        {fitText(says, Math.max(x, shown.width - x) - 14, 13)}
      </text>
    </g>
  )
}

/** A net of lines where there is no other ground: a square is as wide as the ruler is long. */
function Net({
  sight,
  width,
  height,
}: {
  readonly sight: Sight
  readonly width: number
  readonly height: number
}) {
  const step = rulerOf(sight.scale) * sight.scale
  let path = ''
  for (let x = width / 2 - Math.floor(width / 2 / step) * step; x < width; x += step)
    path += `M${x.toFixed(1)} 0V${height}`
  for (let y = height / 2 - Math.floor(height / 2 / step) * step; y < height; y += step)
    path += `M0 ${y.toFixed(1)}H${width}`
  return <path data-net d={path} stroke="var(--rule)" strokeWidth={0.75} />
}

/** A round length that is some sixty to a hundred and fifty px, m. */
function rulerOf(scale: number): number {
  const wanted = 60 / scale
  const power = 10 ** Math.floor(Math.log10(wanted))
  return (([1, 2, 5, 10] as const).find((step) => step * power >= wanted) ?? 10) * power
}

function Ruler({ scale, y }: { readonly scale: number; readonly y: number }) {
  const metres = rulerOf(scale)
  return (
    <g transform={`translate(12 ${y})`}>
      <path d={`M0 -4V0H${(metres * scale).toFixed(1)}V-4`} fill="none" stroke="var(--ink)" />
      <text x={4} y={-6} fontSize={11} fill="var(--ink-soft)">
        {metres >= 1000 ? `${metres / 1000} km` : `${metres} m`}
      </text>
    </g>
  )
}
