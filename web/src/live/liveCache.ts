import type { Device, LiveFrame, Trace } from '@jaunty-sparrow/contract'

/** The frames that bring readings. */
export type ReadingsFrame = Extract<LiveFrame, { signals: unknown }>

/** Puts the newest of each signal's readings where the list of devices shows it. */
export function applyFrameToDevices(devices: Device[], frame: ReadingsFrame): void {
  const bySignal = new Map(frame.signals.map(({ signal, readings }) => [signal, readings]))
  for (const device of devices) {
    for (const signal of device.signals) {
      for (const [at, receivedAt, value, quality] of bySignal.get(signal.id) ?? []) {
        if (!signal.latest || at >= signal.latest.at) signal.latest = { at, receivedAt, value, quality }
        device.lastSeenAt = Math.max(device.lastSeenAt ?? 0, receivedAt)
      }
    }
  }
}

/**
 * Adds readings to traces: late ones where they belong, repeated ones not again.
 * @param oldest what was measured before this instant (epoch ms) has left the picture
 */
export function applyFrameToTraces(traces: Trace[], frame: ReadingsFrame, oldest: number): void {
  for (const trace of traces) {
    const fresh = frame.signals.find(({ signal }) => signal === trace.signal)
    if (!fresh) continue
    for (const [at, , value] of fresh.readings) insertInOrder(trace.points, at, value)
    const firstKept = trace.points.findIndex(([at]) => at >= oldest)
    if (firstKept > 0) trace.points.splice(0, firstKept)
  }
}

function insertInOrder(points: Trace['points'], at: number, value: number): void {
  let place = points.length
  while (place > 0 && (points[place - 1]?.[0] ?? 0) > at) place--
  if (points[place - 1]?.[0] !== at) points.splice(place, 0, [at, value])
}
