import lowerCase from 'lodash-es/lowerCase.js'
import upperFirst from 'lodash-es/upperFirst.js'
import { fieldLabel } from '../message/field.ts'
import { presentable } from '../text/boundedText.ts'

/** Makes a signal's name out of its field: `/probes/vatTop` becomes "Probes vat top". */
export const signalName = (pointer: string): string =>
  presentable(upperFirst(lowerCase(fieldLabel(pointer))) || fieldLabel(pointer), longestName)

/** As long as a name may be that a person gives. */
const longestName = 80
