import { mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const prefix = 'hoja-work-'

/** A folder of this process's own in the system's temporary place; whoever makes it removes it. */
export const temporaryFolder = (): string => mkdtempSync(join(tmpdir(), `${prefix}${process.pid}-`))

/** Removes the folders of processes that have ended without doing so. */
export function sweepTemporary(): void {
  for (const name of readdirSync(tmpdir())) {
    const pid = Number(name.match(/^hoja-work-(\d+)-/)?.[1])
    if (!Number.isInteger(pid) || isRunning(pid)) continue
    try {
      rmSync(join(tmpdir(), name), { recursive: true, force: true })
    } catch {
      // Somebody else's.
    }
  }
}

/** Whether a process of this machine is there. */
export function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}
