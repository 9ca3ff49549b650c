import lowerCase from 'lodash-es/lowerCase.js'
import upperFirst from 'lodash-es/upperFirst.js'
import { fieldLabel } from './field.ts'

/** Makes a signal's name out of its field: `/probes/vatTop` becomes "Probes vat top". */
export const signalName = (pointer: string): string =>
  upperFirst(lowerCase(fieldLabel(pointer))) || fieldLabel(pointer)
