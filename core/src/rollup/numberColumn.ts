import type { ByteReader } from './byteReader.ts'
import type { ByteWriter } from './byteWriter.ts'

/** Numbers that need more decimals than this are written as they are. */
const mostDecimals = 6
const asTheyAre = mostDecimals + 1
/** Beyond this a number has no room for all its decimals as a whole one. */
const largestWhole = 2 ** 50

/** How many decimals all of the numbers get by with, exactly; undefined where none do. */
function decimalsOf(values: readonly number[]): number | undefined {
  let decimals = 0
  for (const value of values) {
    while (!isExact(value, decimals)) if (++decimals > mostDecimals) return undefined
  }
  // One that came early may need fewer than what came after and still not bear more.
  return values.every((value) => isExact(value, decimals)) ? decimals : undefined
}

function isExact(value: number, decimals: number): boolean {
  const scale = 10 ** decimals
  const whole = Math.round(value * scale)
  return Math.abs(whole) < largestWhole && whole / scale === value && !Object.is(value, -0)
}

/**
 * Writes numbers that follow each other: what a sensor says has few decimals and moves little, so mostly a byte or two each.
 * Each comes back exactly as it was.
 */
export function writeNumbers(writer: ByteWriter, values: readonly number[]): void {
  const decimals = decimalsOf(values)
  writer.count(decimals ?? asTheyAre)
  if (decimals === undefined) for (const value of values) writer.float(value)
  else {
    let before = 0
    for (const value of values) {
      const whole = Math.round(value * 10 ** decimals)
      writer.whole(whole - before)
      before = whole
    }
  }
}

/** @param count how many there are */
export function readNumbers(reader: ByteReader, count: number): number[] {
  const decimals = reader.count()
  const values: number[] = []
  if (decimals === asTheyAre) {
    for (let n = 0; n < count; n++) values.push(reader.float())
    return values
  }
  const scale = 10 ** decimals
  let whole = 0
  for (let n = 0; n < count; n++) {
    whole += reader.whole()
    values.push(whole / scale)
  }
  return values
}
