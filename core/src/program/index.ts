export { paperProgram } from './paperProgram.ts'

import { cppHttpProgram } from './cppHttpProgram.ts'
import { cppMqttProgram } from './cppMqttProgram.ts'
import { cppSerialProgram } from './cppSerialProgram.ts'
import { microPythonProgram } from './microPythonProgram.ts'
import { nodeForwarder } from './nodeForwarder.ts'
import { nodeProgram } from './nodeProgram.ts'
import type { ProgramKind } from './program.ts'
import { pythonForwarder } from './pythonForwarder.ts'
import { pythonProgram } from './pythonProgram.ts'
import { shellProgram } from './shellProgram.ts'

export type { ProgramField, ProgramFile, ProgramKind, ProgramTarget } from './program.ts'

/** The programs that can be written for a device. */
export const programKinds: readonly ProgramKind[] = [
  cppHttpProgram,
  cppMqttProgram,
  cppSerialProgram,
  microPythonProgram,
  pythonProgram,
  nodeProgram,
  shellProgram,
  pythonForwarder,
  nodeForwarder,
]
