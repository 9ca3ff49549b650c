import type { ShownSignal } from '../instrument/index.ts'
import { endsOf } from '../scale/index.ts'

/** What share of its range a channel is at, 0..1. */
export function shareOf(value: number, channel: ShownSignal): number {
  const ends = endsOf(channel)
  return ends ? Math.min(1, Math.max(0, (value - ends.low) / (ends.high - ends.low))) : 0
}

/**
 * The colour that three channels of light mix, as CSS writes it: red, green and blue in their order, as the eye sees linear light
 * (the transfer function of sRGB, IEC 61966-2-1).
 * @returns undefined where one of them says nothing
 */
export function mixed(
  channels: readonly ShownSignal[],
  said: (channel: ShownSignal) => number | undefined,
): string | undefined {
  const shares = channels.map((channel) => {
    const value = said(channel)
    return value === undefined ? undefined : shareOf(value, channel)
  })
  if (shares.length !== 3 || shares.includes(undefined)) return undefined
  return `rgb(${shares.map((share) => Math.round(255 * encoded(share ?? 0))).join(' ')})`
}

const encoded = (linear: number): number =>
  linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055
