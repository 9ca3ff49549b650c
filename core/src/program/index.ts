import { microPythonProgram } from './microPythonProgram.ts'
import { nodeProgram } from './nodeProgram.ts'
import type { ProgramKind } from './program.ts'
import { pythonProgram } from './pythonProgram.ts'
import { shellProgram } from './shellProgram.ts'

export type { ProgramField, ProgramFile, ProgramKind, ProgramTarget } from './program.ts'

/** The programs that can be written for a device. */
export const programKinds: readonly ProgramKind[] = [
  microPythonProgram,
  pythonProgram,
  nodeProgram,
  shellProgram,
]
