import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'

/** The process that holds a lock file, if it still lives; a lock that a dead process left behind counts for nothing. */
export function lockHolder(file) {
  let pid
  try {
    pid = Number(readFileSync(file, 'utf8'))
  } catch (error) {
    if (error.code === 'ENOENT') return undefined
    throw error
  }
  try {
    process.kill(pid, 0)
    return pid
  } catch (error) {
    if (error.code === 'EPERM') return pid
    rmSync(file, { force: true })
    return undefined
  }
}

/** Takes a lock file. @returns a function that gives it back, or undefined when another process holds it */
export function tryLock(file) {
  mkdirSync(dirname(file), { recursive: true })
  if (lockHolder(file)) return undefined
  try {
    writeFileSync(file, String(process.pid), { flag: 'wx' })
  } catch (error) {
    if (error.code === 'EEXIST') return undefined
    throw error
  }
  return () => rmSync(file, { force: true })
}

/** Waits for a lock file, then does the work. */
export async function withLock(file, work) {
  let release = tryLock(file)
  if (!release) console.log('Waiting for another command to finish its set-up …')
  while (!release) {
    await pause(200)
    release = tryLock(file)
  }
  try {
    return await work()
  } finally {
    release()
  }
}
