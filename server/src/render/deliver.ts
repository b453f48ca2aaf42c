import { closeSync, openSync, readSync } from 'node:fs'
import { join } from 'node:path'
import { type FormatId, type ManifestEntry, outputFormats } from '@hoja/core/output'
import { type Finished, finishedFolder } from './unit.ts'

/** One file as it is handed over: its name, and where its bytes lie. */
export interface Delivered {
  path: string
  from: string
  at: number
  length: number
}

/** What a sequence's frames are called: `NAME_%04d.png`. */
const framePattern = (name: string) => `${name.split('/').pop()}_%04d.png`

/** Name of a sequence's frame: `NAME_0000.png`, counted from 0. */
export function frameName(name: string, frame: number): string {
  return framePattern(name).replace('%04d', String(frame).padStart(4, '0'))
}

/** What a title's files are called; of a sequence, its folder. */
export function titlePaths(format: FormatId, name: string): string[] {
  const { endings } = outputFormats[format]
  return endings.length > 0 ? endings.map((ending) => `${name}${ending}`) : [name]
}

/** What a title is called as a whole: its first file. */
export const titlePath = (format: FormatId, name: string): string => titlePaths(format, name)[0]!

/** The files of a finished title. */
export function* titleFiles(root: string, finished: Finished, name: string): Generator<Delivered> {
  const folder = finishedFolder(root, finished.key)
  const { endings } = outputFormats[finished.format]
  if (finished.sequence) {
    const from = join(folder, finished.files[0]!.file)
    for (const [frame, picture] of finished.sequence.frames.entries())
      yield { path: `${name}/${frameName(name, frame)}`, from, ...finished.sequence.pictures[picture]! }
    return
  }
  for (const [i, { file, bytes }] of finished.files.entries())
    yield { path: `${name}${endings[i]}`, from: join(folder, file), at: 0, length: bytes }
}

/** What the manifest says of a finished title: a line for each file. */
export function manifestOf(finished: Finished, row: number, name: string, version?: number): ManifestEntry[] {
  const { key, frames, rate, files, format, sequence } = finished
  return files.map(({ bytes, sha256 }, i) => ({
    row,
    title: name,
    file: `${name}${outputFormats[format].endings[i] ?? ''}`,
    frames,
    rate,
    ...(version === undefined ? {} : { version }),
    bytes,
    sha256,
    ...(sequence ? { pictures: framePattern(name) } : {}),
    key,
  }))
}

/** The bytes of a file that is handed over, piece by piece. */
export function* piecesOf({ from, at, length }: Delivered): Generator<Uint8Array> {
  const file = openSync(from, 'r')
  try {
    for (let read = 0; read < length; ) {
      const piece = Buffer.alloc(Math.min(1 << 20, length - read))
      const count = readSync(file, piece, 0, piece.length, at + read)
      if (count === 0) throw new Error(`"${from}" ends before its length`)
      read += count
      yield piece.subarray(0, count)
    }
  } finally {
    closeSync(file)
  }
}
