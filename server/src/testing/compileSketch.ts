import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const computer = fileURLToPath(new URL('../programs/computer', import.meta.url))

/** Compiles a program for this computer in place of a board. @returns how the compiler ended, and what it complained of */
export function compileSketch(folder: string): readonly [status: number | null, complaints: string] {
  const { status, stderr } = spawnSync(
    'g++',
    [
      ...['-std=c++17', '-Wall', '-Wextra', '-Werror', '-DARDUINO=10819', '-I', computer],
      ...['-include', 'Arduino.h', '-x', 'c++', 'board.ino', join(computer, 'computer.cpp'), '-o', 'board'],
    ],
    { cwd: folder, encoding: 'utf8' },
  )
  return [status, stderr]
}
