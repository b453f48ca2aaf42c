import { open } from 'node:fs/promises'
import { setTimeout } from 'node:timers/promises'

/** ms between two looks at how much has been written. */
const every = 25
/** Bytes that are sent on to the disk together: each time costs the file system an entry in its journal. */
const together = 8 * 1024 * 1024

/**
 * Syncs files while somebody else writes them, so that the disk works meanwhile and little is left to wait for; all of
 * them is on the disk when this returns.
 * @throws what `write` throws, or what the disk says
 */
export async function whileSyncing(files: readonly string[], write: () => Promise<void>): Promise<void> {
  const written = new AbortController()
  const syncs = files.map(async (file) => {
    let size = 0
    while (!written.signal.aborted) {
      await setTimeout(every, undefined, { signal: written.signal }).catch(() => {})
      size = await synced(file, size, written.signal.aborted)
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

/**
 * Syncs a file that has grown enough, or (`isWhole`) that is written and must be there.
 * @param before bytes that are on the disk
 * @returns bytes that are on the disk now
 */
async function synced(file: string, before: number, isWhole: boolean): Promise<number> {
  try {
    const handle = await open(file, 'r')
    try {
      const { size } = await handle.stat()
      if (!isWhole && size - before < together) return before
      await handle.sync()
      return size
    } finally {
      await handle.close()
    }
  } catch (error) {
    if (isWhole || (error as NodeJS.ErrnoException).code !== 'ENOENT') throw error
    return before
  }
}
