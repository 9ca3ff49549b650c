import { createRequire } from 'node:module'
import { Resvg } from '@resvg/resvg-js'
import { encode } from 'fast-png'
import type { ReactNode } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'

/** How many greys a display can show, black and white among them. */
export type Greys = 2 | 4

const { resolve } = createRequire(import.meta.url)
/** The typeface of the screens, and for signs that it lacks, such as ▲ and ₂, two that have them. */
const fonts = [
  'hanken-grotesk/400Regular/HankenGrotesk_400Regular',
  'hanken-grotesk/600SemiBold/HankenGrotesk_600SemiBold',
  'noto-sans/400Regular/NotoSans_400Regular',
  'noto-sans-math/400Regular/NotoSansMath_400Regular',
].map((face) => resolve(`@expo-google-fonts/${face}.ttf`))

/** What each ink becomes: a display of two has neither half tones nor colour, so that states are told by shape and word alone. */
const inks: Readonly<Record<Greys, Readonly<Record<string, string>>>> = {
  2: { paper: '#fff', well: '#fff', rule: '#fff', 'rule-strong': '#000' },
  4: { paper: '#fff', well: '#fff', rule: '#aaa', 'rule-strong': '#555', 'ink-soft': '#555' },
}

interface GreyPicture {
  readonly title: string
  /** px */
  readonly width: number
  readonly height: number
  readonly greys: Greys
  readonly drawn: ReactNode
}

/** Draws drawings of the screen in two or four greys. @returns a PNG of one or two bits a pixel */
export function greyPicture({ title, width, height, greys, drawn }: GreyPicture): Uint8Array {
  const svg = renderToStaticMarkup(
    <svg
      xmlns="http://www.w3.org/2000/svg"
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      fontFamily="Hanken Grotesk"
      role="img"
      aria-label={title}
    >
      {drawn}
    </svg>,
  ).replaceAll(/var\(--([a-z-]+)\)/g, (_, name: string) => inks[greys][name] ?? '#000')
  const { pixels } = new Resvg(svg, {
    background: '#fff',
    font: { fontFiles: fonts, loadSystemFonts: false, defaultFontFamily: 'Hanken Grotesk' },
  }).render()
  return encode({
    width,
    height,
    depth: greys === 2 ? 1 : 2,
    channels: 1,
    data: packed(pixels, width, height, greys),
  })
}

/** Pixels of four bytes as rows of one or two bits each, every row on a byte of its own (PNG, 7.2). */
function packed(pixels: Uint8Array, width: number, height: number, greys: Greys): Uint8Array {
  const bits = greys === 2 ? 1 : 2
  const perByte = 8 / bits
  const rowBytes = Math.ceil(width / perByte)
  const data = new Uint8Array(rowBytes * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4
      const [red = 0, green = 0, blue = 0] = [pixels[at], pixels[at + 1], pixels[at + 2]]
      // Rec. 601. Where there is black and white only, a hairline that lies between two rows of pixels is still a line.
      const light = (red * 299 + green * 587 + blue * 114) / 255_000
      const grey = greys === 2 ? Number(light > 0.6) : Math.min(3, Math.floor(light * 4))
      const place = y * rowBytes + Math.floor(x / perByte)
      data[place] = (data[place] ?? 0) | (grey << (8 - bits * ((x % perByte) + 1)))
    }
  return data
}
