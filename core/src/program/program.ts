import setWith from 'lodash-es/setWith.js'
import { wireName } from '../command/wire.ts'
import { pointerSegments } from '../message/field.ts'
import type { SignalKind } from '../signal/signalKind.ts'

/** A field that a program sends, with a value to stand there until the sensor is read. */
export interface ProgramField {
  /** JSON Pointer. */
  readonly pointer: string
  readonly kind: SignalKind
  /** What was said last; undefined where nothing was. */
  readonly last?: unknown
}

/** What a program is written for. */
export interface ProgramTarget {
  readonly address: string
  /** Where the server is reached, such as http://192.168.1.20:7600. */
  readonly url: string
  /** Where its MQTT broker is reached. */
  readonly mqtt: { readonly host: string; readonly port: number; readonly isEncrypted: boolean }
  /** The certificate, PEM, that the server's own is signed by; undefined where it is not known here. */
  readonly authority?: string | undefined
  /** How often it speaks, s. */
  readonly seconds: number
  /** Whether it sleeps in between. */
  readonly sleeps: boolean
  readonly fields: readonly ProgramField[]
  /** What it can be asked for. */
  readonly controlled: readonly ProgramField[]
  /** Whether limits or alarms are stated of what it sends. */
  readonly guards: boolean
}

/** One file of a program. */
export interface ProgramFile {
  readonly name: string
  readonly text: string
  /** Whether it holds the secret, and is not to be shown to others. */
  readonly isSecret?: boolean
}

/** A kind of program that can be written for any device. */
export interface ProgramKind {
  readonly key: string
  readonly name: string
  /** What it needs and what it is for. */
  readonly says: string
  readonly write: (target: ProgramTarget, secret: string) => readonly ProgramFile[]
}

const samples: Readonly<Record<SignalKind, unknown>> = {
  number: 0,
  switch: false,
  choice: 0,
  text: '',
  position: { lat: 0, lon: 0 },
  momentary: 0,
}

/**
 * What of a device can be asked for, by what it is called on the wire, with the safe state: off, nothing, its first state. What is
 * momentary has none.
 */
export const safeStates = (controlled: readonly ProgramField[]): Record<string, unknown> =>
  Object.fromEntries(
    controlled.map(({ pointer, kind }) => [wireName(pointer), kind === 'momentary' ? null : samples[kind]]),
  )

/** Where a program posts what it sends: it asks for what waits for it, and by what it guards, in the same breath. */
export function inbox({ controlled, guards }: Pick<ProgramTarget, 'controlled' | 'guards'>): string {
  const asked = [...(controlled.length > 0 ? ['commands'] : []), ...(guards ? ['limits'] : [])]
  return asked.length > 0 ? `/in?${asked.join('&')}` : '/in'
}

/** The message that a program sends, as an object: its fields where their pointers say. */
export function messageOf(fields: readonly ProgramField[]): Record<string, unknown> {
  const message: Record<string, unknown> = {}
  const sent = fields.filter(({ kind }) => kind !== 'momentary')
  const standing = [{ pointer: '/temperature', kind: 'number' as const, last: 21.5 }]
  for (const { pointer, kind, last } of sent.length > 0 ? sent : standing)
    setWith(
      message,
      pointerSegments(pointer),
      kind === 'switch' ? Boolean(last) : (last ?? samples[kind]),
      Object,
    )
  return message
}
