import Papa from 'papaparse'
import { type Rate, rateText, secondsOf } from '../time/index.ts'
import type { PieceName, Stretches } from './pieces.ts'

/** What a manifest says of one file. */
export interface ManifestEntry {
  row: number
  /** What its title is called: its files begin so. */
  title: string
  /** Its way within the output, folders included; of a sequence, its folder. */
  file: string
  frames: number
  /** Frames per second. */
  rate: Rate
  /** Number of the published version; absent for a template that is not published. */
  version?: number
  bytes: number
  /** Of the file; of a sequence, of its pictures behind one another, in order. */
  sha256: string
  /** Frames of its stretches, handles included; absent for a still. */
  spans?: Stretches
  /** Which piece of its title it is. */
  piece?: PieceName
  /** The file beside it that marks its stretches. */
  marks?: string
  /** Of a sequence: what its pictures are called in its folder, `%04d` for the number of the frame, from 0. */
  pictures?: string
  /** Names the title by all that it was made of. */
  key: string
}

/** Of a whole output: what a program reads. */
export function manifestJson(entries: readonly ManifestEntry[], about: Record<string, unknown>): string {
  const files = entries.map(({ rate, ...entry }) => ({
    ...entry,
    rate: rateText(rate),
    seconds: Number(secondsOf(entry.frames, rate).toFixed(3)),
  }))
  return `${JSON.stringify({ ...about, files }, null, 2)}\n`
}

/** Of a whole output: what a person opens in a spreadsheet. CSV by RFC 4180. */
export function manifestCsv(entries: readonly ManifestEntry[]): string {
  const rows = entries.map(({ row, file, frames, rate, version, bytes, sha256 }) => [
    row,
    file,
    frames,
    rateText(rate),
    secondsOf(frames, rate).toFixed(3),
    version ?? '',
    bytes,
    sha256,
  ])
  const fields = ['row', 'file', 'frames', 'rate', 'seconds', 'version', 'bytes', 'sha256']
  return `${Papa.unparse({ fields, data: rows }, { escapeFormulae: true })}\r\n`
}
