import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { type FormatId, outputFormats, type PieceName, type Stretches } from '@hoja/core/output'
import type { Rate } from '@hoja/core/time'

/** One file of a finished title; of a sequence, every distinct picture behind one another in one. */
export interface FinishedFile {
  /** Its name in the title's folder. */
  file: string
  /** What stands behind the title's name in its name: `_in.mov`; of a sequence, in that of its folder. */
  suffix: string
  bytes: number
  /** Of the file; of a sequence, of its pictures behind one another, frame by frame. */
  sha256: string
  frames: number
  /** Which piece of the title it is. */
  piece?: PieceName
  /** Its stretches; absent for a still. */
  spans?: Stretches
  /** Sequences: where each distinct picture lies in the file, and which of them every frame shows. */
  sequence?: { pictures: { at: number; length: number }[]; frames: readonly number[] }
}

/** Beside a finished title's files: what it says of itself. Called so since the first results, which are still found. */
export const aboutFile = 'unit.json'

/** What a finished title says of itself. */
export interface Finished {
  key: string
  format: FormatId
  /** In the order of the pieces, and of the format's endings. */
  files: FinishedFile[]
  /** Of the whole title. */
  frames: number
  /** Of them, those that differ. */
  pictures: number
  rate: Rate
  /** Whether it is to be delivered with a file that marks its spans. */
  marks?: boolean
}

export function finishedFolder(root: string, key: string): string {
  return join(root, key.slice(0, 2), key)
}

/** Titles that were finished before pieces: one file each, and a sequence's places beside it. */
type FinishedBefore = Finished & { sequence?: FinishedFile['sequence'] }

export function readFinished(root: string, key: string): Finished | undefined {
  const file = join(finishedFolder(root, key), aboutFile)
  if (!existsSync(file)) return undefined
  const { sequence, ...finished } = JSON.parse(readFileSync(file, 'utf8')) as FinishedBefore
  const { endings } = outputFormats[finished.format]
  const files = finished.files.map((one, i) => ({
    ...one,
    suffix: one.suffix ?? endings[i] ?? '',
    frames: one.frames ?? finished.frames,
    ...(sequence ? { sequence } : {}),
  }))
  return { ...finished, files }
}

/** Removes what a crash left half-written. */
export function removeUnfinished(root: string): void {
  for (const shelf of existsSync(root) ? readdirSync(root) : [])
    for (const folder of readdirSync(join(root, shelf)))
      if (folder.endsWith('.part')) rmSync(join(root, shelf, folder), { recursive: true, force: true })
}
