/**
 * What a signal's readings are: numbers in a unit, a switch that is off (0) or on (1), one of several named states, text, or
 * a place; what is momentary can only be triggered, and has none.
 */
export const signalKinds = ['number', 'switch', 'choice', 'text', 'position', 'momentary'] as const
export type SignalKind = (typeof signalKinds)[number]
