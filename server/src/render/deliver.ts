import { closeSync, openSync, readSync } from 'node:fs'
import { join } from 'node:path'
import { type Match, type Row, rowTimes } from '@hoja/core/data'
import {
  conformEdls,
  conformOtio,
  type ManifestEntry,
  type OutputSettings,
  outputFormats,
  type PieceName,
  spansOtio,
  suffixesOf,
} from '@hoja/core/output'
import { frameOfTimecode, isDropFrame } from '@hoja/core/time'
import { type Finished, type FinishedFile, finishedFolder } from './finished.ts'

/** One file as it is handed over: its name, and where its bytes lie. */
export interface Delivered {
  path: string
  from: string
  at: number
  length: number
}

/** A file that is made when it is handed over, for it names the others. */
export interface Sidecar {
  path: string
  text: string
}

/** What a sequence's frames are called: `NAME_%04d.png`. */
const framePattern = (folder: string, ending: string) => `${folder.split('/').pop()}_%04d${ending}`

/** Name of a sequence's frame: `NAME_0000.png`, counted from 0. */
export function frameName(folder: string, frame: number, ending = '.png'): string {
  return framePattern(folder, ending).replace('%04d', String(frame).padStart(4, '0'))
}

const allPieces: readonly PieceName[] = ['in', 'hold', 'out']

/** What a title's files are called, before it is rendered; of a sequence, its folder. */
export function titlePaths(settings: Pick<OutputSettings, 'format' | 'pieces'>, name: string): string[] {
  return suffixesOf(settings, allPieces).map((suffix) => `${name}${suffix}`)
}

/** What a title is called as a whole: its first file. */
export const titlePath = (settings: Pick<OutputSettings, 'format' | 'pieces'>, name: string): string =>
  titlePaths(settings, name)[0]!

/** The files of a finished title. */
export function* titleFiles(root: string, finished: Finished, name: string): Generator<Delivered> {
  for (const file of finished.files) yield* filesOf(root, finished, file, name)
}

/** One of them; of a sequence, each of its frames. */
export function* filesOf(
  root: string,
  { key, format }: Finished,
  { file, suffix, bytes, sequence }: FinishedFile,
  name: string,
): Generator<Delivered> {
  const from = join(finishedFolder(root, key), file)
  const path = `${name}${suffix}`
  if (!sequence) {
    yield { path, from, at: 0, length: bytes }
    return
  }
  const ending = outputFormats[format].pictures ?? '.png'
  for (const [frame, picture] of sequence.frames.entries())
    yield { path: `${path}/${frameName(path, frame, ending)}`, from, ...sequence.pictures[picture]! }
}

/** What the manifest says of a finished title: a line for each file. */
export function manifestOf(finished: Finished, row: number, name: string, version?: number): ManifestEntry[] {
  const { key, rate, files, format, marks } = finished
  return files.map(({ suffix, bytes, sha256, frames, piece, spans, sequence }, i) => {
    const file = `${name}${suffix}`
    return {
      row,
      title: name,
      file,
      frames,
      rate,
      ...(version === undefined ? {} : { version }),
      bytes,
      sha256,
      ...(piece ? { piece } : {}),
      ...(spans ? { spans } : {}),
      ...(marks && i === 0 ? { marks: `${name}.otio` } : {}),
      ...(sequence ? { pictures: framePattern(file, outputFormats[format].pictures ?? '.png') } : {}),
      key,
    }
  })
}

/** The file that marks a title's spans, beside it; nothing for a title that is to have none. */
export function sidecarOf(entry: ManifestEntry, timecode: string | undefined): Sidecar | undefined {
  const { marks, spans, file, title, frames, rate } = entry
  if (!marks || !spans) return undefined
  const start = timecode ? frameOfTimecode(timecode, rate) : 0
  const base = (path: string) => path.split('/').pop()!
  return {
    path: marks,
    text: spansOtio({ name: base(title), file: base(file), frames, stretches: spans }, rate, start),
  }
}

/**
 * Lists that put titles in their places in an edit: OTIO and CMX 3600. Of a title of several files the first one; none of
 * stills, and of pieces, which are as long as their edit makes them.
 * @param rowOf the sheet's rows, from 1: where their data says so, titles lie at their own times
 */
export function conformLists(
  entries: readonly ManifestEntry[],
  { name, match, timecode }: { name: string; match: Match; timecode: string | undefined },
  rowOf: (n: number) => Row | undefined,
): Sidecar[] {
  const [first] = entries
  if (!first?.spans || first.piece) return []
  const seen = new Set<string>()
  // One list counts in one way: as its rows do, where they say it.
  let drop = timecode !== undefined && isDropFrame(timecode)
  const clips = entries.flatMap(({ row, title, file, frames, spans }) => {
    if (!spans || seen.has(title)) return []
    seen.add(title)
    const content = rowOf(row)
    const { from, drop: dropping } = content ? rowTimes(match, content, first.rate) : {}
    drop ||= dropping === true
    return [{ name: title.split('/').pop()!, file, frames, stretches: spans, ...(from === undefined ? {} : { from }) }]
  })
  const start = timecode ? frameOfTimecode(timecode, first.rate) : 0
  const conform = { name, rate: first.rate, start, drop, clips }
  return [
    { path: 'conform.otio', text: conformOtio(conform) },
    ...conformEdls(conform).map((list) => ({ path: list.name, text: list.text })),
  ]
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
