import { once } from 'node:events'
import { closeSync, openSync, readFileSync, readSync } from 'node:fs'
import { join } from 'node:path'
import type { Writable } from 'node:stream'
import { Refusal } from '@hoja/core/refusal'
import { Zip, ZipPassThrough } from 'fflate'
import type { UnitRow } from '../store/outputs.ts'
import type { Format } from './settings.ts'
import { type Finished, finishedFolder, readFinished } from './unit.ts'

/** What a ZIP without 64-bit records can hold, less room for its directory. */
const most = 0xffffffff - 64 * 1024 * 1024

/** Name of a frame's file: `NAME_0000.png`, counted from 0. */
export function frameName(name: string, frame: number): string {
  return `${name}_${String(frame).padStart(4, '0')}.png`
}

/** The files of a finished title by name, in order; a picture that several frames show is read once. */
export function* titleFiles(root: string, finished: Finished, name: string): Generator<[string, Uint8Array]> {
  const path = join(finishedFolder(root, finished.key), finished.file)
  if (finished.format !== 'png') {
    yield [`${name}.${finished.format}`, readFileSync(path)]
    return
  }
  const file = openSync(path, 'r')
  try {
    let last = -1
    let bytes: Buffer = Buffer.alloc(0)
    for (const [frame, picture] of finished.frames.entries()) {
      if (picture !== last) {
        const place = finished.pictures[picture]!
        bytes = Buffer.alloc(place.length)
        for (let read = 0; read < place.length; )
          read += readSync(file, bytes, read, place.length - read, place.at + read)
        last = picture
      }
      yield [`${name}/${frameName(name, frame)}`, bytes]
    }
  } finally {
    closeSync(file)
  }
}

/** Streams an output's finished titles as a ZIP, stored (they are compressed already), no faster than `to` takes it. */
export async function zipOutput(root: string, format: Format, units: readonly UnitRow[], to: Writable): Promise<void> {
  const titles = units.flatMap((unit) => {
    const finished = unit.result ? readFinished(root, unit.result) : undefined
    return finished ? [{ name: unit.name, finished }] : []
  })
  if (titles.length === 0)
    throw new Refusal('zip.empty', 'No title of this output is rendered yet; wait for the first one.', 409)
  const total = titles.reduce(
    (sum, { finished }) =>
      sum +
      (format === 'png'
        ? finished.frames.reduce((n, picture) => n + finished.pictures[picture]!.length + 200, 0)
        : finished.bytes),
    0,
  )
  if (total > most)
    throw new Refusal(
      'zip.large',
      'This output is larger than a 4 GB zip can hold; render fewer rows at a time, or use the command line.',
      413,
    )
  const files = function* () {
    for (const { name, finished } of titles) yield* titleFiles(root, finished, name)
  }
  await zipFiles(files(), to)
}

/** Streams files as a ZIP, stored, no faster than `to` takes it; ends early when nobody listens any more. */
export async function zipFiles(
  files: Iterable<readonly [string, Uint8Array]> | AsyncIterable<readonly [string, Uint8Array]>,
  to: Writable,
): Promise<void> {
  let full = false
  let gone = false
  const closed = once(to, 'close').then(() => {
    gone = true
  })
  const zip = new Zip((error, chunk, final) => {
    if (error) to.destroy(error)
    else if (!to.write(chunk)) full = true
    if (final) to.end()
  })
  for await (const [path, bytes] of files) {
    if (gone) return
    const entry = new ZipPassThrough(path)
    zip.add(entry)
    entry.push(bytes, true)
    if (full) {
      await Promise.race([once(to, 'drain'), closed])
      full = false
    }
  }
  zip.end()
}
