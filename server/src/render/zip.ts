import { Readable, type Writable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import ZipStream from 'zip-stream'
import { type Delivered, piecesOf } from './deliver.ts'

/** A file of a ZIP: bytes, or where they lie. */
export type Zipped = { path: string; bytes: Uint8Array } | Delivered

/** A file up to so large is read at once. */
const small = 1024 * 1024

/**
 * Streams files as a ZIP, stored (they are compressed already), no faster than `to` takes it and of any size (ZIP64, APPNOTE
 * 4.3.14); ends early when nobody listens any more.
 */
export async function zipFiles(files: Iterable<Zipped> | AsyncIterable<Zipped>, to: Writable): Promise<void> {
  const zip = new ZipStream({ store: true })
  const sending = pipeline(zip as unknown as Readable, to)
  const add = (source: Buffer | Readable, name: string) =>
    new Promise<void>((done, fail) => {
      zip.entry(source, { name, store: true }, (error?: Error | null) => (error ? fail(error) : done()))
    })
  const adding = async () => {
    for await (const file of files) {
      if (to.destroyed) return
      const source =
        'bytes' in file
          ? Buffer.from(file.bytes)
          : file.length <= small
            ? Buffer.concat([...piecesOf(file)])
            : Readable.from(piecesOf(file))
      // Its callback never comes once whoever fetched it has gone, which `sending` tells.
      await Promise.race([add(source, file.path), sending])
    }
    zip.finish()
  }
  try {
    await Promise.all([sending, adding()])
  } catch (error) {
    // Whoever fetched it went away, which is no fault.
    if ((error as NodeJS.ErrnoException).code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error
  }
}
