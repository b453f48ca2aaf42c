import { open } from 'node:fs/promises'
import { setTimeout } from 'node:timers/promises'

/** ms between two times that what has been written is sent on to the disk. */
const every = 25

/**
 * Syncs files while somebody else writes them, so that the disk works meanwhile and little is left to wait for; all of
 * them is on the disk when this returns.
 * @throws what `write` throws, or what the disk says
 */
export async function whileSyncing(files: readonly string[], write: () => Promise<void>): Promise<void> {
  const written = new AbortController()
  const syncs = files.map(async (file) => {
    while (!written.signal.aborted) {
      await setTimeout(every, undefined, { signal: written.signal }).catch(() => {})
      await synced(file, written.signal.aborted)
    }
  })
  // Heard below; the disk says only once that something went wrong.
  const all = Promise.all(syncs)
  all.catch(() => {})
  try {
    await write()
  } finally {
    written.abort()
  }
  await all
}

/** @param isWhole it has been written, and must be there */
async function synced(file: string, isWhole: boolean): Promise<void> {
  try {
    const handle = await open(file, 'r')
    try {
      await handle.sync()
    } finally {
      await handle.close()
    }
  } catch (error) {
    if (isWhole || (error as NodeJS.ErrnoException).code !== 'ENOENT') throw error
  }
}
