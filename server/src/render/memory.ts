import { setImmediate, setTimeout } from 'node:timers/promises'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { copiedBytes } from '@hoja/core/text'

// The flag is the whole process's: it stays, or a thread that starts meanwhile would find no `gc`.
setFlagsFromString('--expose-gc')
const collect = runInNewContext('gc') as (options?: { type: 'minor' | 'major' }) => void

/** Titles between two full collections; the others get a quick one. */
const every = 20
let titles = 0

/**
 * Gives back the pixels of a finished title. The raster library's surfaces and the bytes it reads out lie outside V8's
 * heap, where V8 does not count them, and are freed on a turn of the event loop: a busy thread would otherwise keep
 * gigabytes of them before either came.
 */
export async function releasePixels(): Promise<void> {
  titles++
  collect({ type: titles % every === 0 ? 'major' : 'minor' })
  await setImmediate()
}

/** Bytes of fonts in wasm memory that may wait. */
const mostCopied = 4 * 1024 * 1024
let collectedAt = 0

/** The same at the end of a piece of work that loaded fonts: their copies in wasm memory are freed when they are collected. */
export async function releaseAll(): Promise<void> {
  if (copiedBytes() - collectedAt < mostCopied) return
  collectedAt = copiedBytes()
  // Without a type it is the one after which finalizers run; asked for by its name (`major`) they often don't.
  collect()
  // What frees them is told a little after they were collected, as a task of its own.
  await setTimeout(1)
}

/** Bytes of pixels that may wait for the end of their title. */
const most = 128 * 1024 * 1024
let read = 0

/** The same in the middle of a title, whenever so many pixels have been read that they would fill the memory. */
export async function makeRoom(bytes: number): Promise<void> {
  read += bytes
  if (read < most) return
  read = 0
  collect({ type: 'minor' })
  await setImmediate()
}
