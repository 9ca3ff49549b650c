import type { Scope } from './compileFormula.ts'

/** Finds the constants of a device by name; what is not stated itself is none, as `toString` is. */
export const constantsOf =
  (stated: Readonly<Record<string, number>>): Scope['constant'] =>
  (name) =>
    Object.hasOwn(stated, name) ? stated[name] : undefined
