import { randomUUID } from 'node:crypto'
import {
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs'
import { join } from 'node:path'
import { checkRow, type Finding, type Match, type Row, stateOf } from '@hoja/core/data'
import { soundStarts } from '@hoja/core/motion'
import type { Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import { secondsOf } from '@hoja/core/time'
import { hashOf, writeWhole } from '../store/files.ts'
import type { SheetPicture } from '../store/sheets.ts'
import { encodeMovie } from './encode.ts'
import type { Raster } from './raster.ts'
import type { Format, OutputSettings } from './settings.ts'
import { planTitle, pngPictures, rawFrames } from './title.ts'

/** Raised whenever the same input would give other bytes than before, so that old results are not found again. */
const engine = 2

/** What a finished unit says of itself, in `unit.json` beside its files. */
export interface Finished {
  key: string
  format: Format
  /** The unit's one file: a movie, or every distinct picture of a PNG sequence behind one another. */
  file: string
  bytes: number
  /** PNG sequences: where each distinct picture lies in the file, and which of them every frame shows. */
  pictures: { at: number; length: number }[]
  frames: number[]
}

export type UnitResult =
  | { state: 'done'; finished: Finished; found: boolean; values: Values }
  | { state: 'held'; findings: Finding[]; values: Values }

/** The sheet's pictures that a title shows, by their bytes: another one of the same name makes another title. */
function picturesOf(values: Values, pictures: readonly SheetPicture[]): string[] {
  const named = new Set(
    Object.values(values).map((value) =>
      typeof value === 'object' && 'picture' in value ? value.picture : String(value),
    ),
  )
  return pictures.filter(({ name }) => named.has(name)).map(({ sha256 }) => sha256)
}

/** Names a title's files by all they depend on: the version's document, the row's values and pictures, the settings. */
export function unitKey(
  document: string,
  values: Values,
  settings: OutputSettings,
  pictures: readonly string[] = [],
): string {
  const { format, frames } = settings
  const sorted = Object.fromEntries(Object.entries(values).sort(([a], [b]) => (a < b ? -1 : 1)))
  return hashOf(
    JSON.stringify({ engine, document, values: sorted, format, frames, ...(pictures.length > 0 ? { pictures } : {}) }),
  )
}

export function finishedFolder(root: string, key: string): string {
  return join(root, key.slice(0, 2), key)
}

export function readFinished(root: string, key: string): Finished | undefined {
  const file = join(finishedFolder(root, key), 'unit.json')
  return existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Finished) : undefined
}

/** Removes what a crash left half-written. */
export function removeUnfinished(root: string): void {
  for (const shelf of existsSync(root) ? readdirSync(root) : [])
    for (const folder of readdirSync(join(root, shelf)))
      if (folder.endsWith('.part')) rmSync(join(root, shelf, folder), { recursive: true, force: true })
}

export interface UnitOrder {
  scene: Scene
  /** SHA-256 of the version's document. */
  document: string
  match: Match
  row: Row
  /** From 1. */
  n: number
  settings: OutputSettings
  /** Pictures that came with the sheet. */
  pictures: readonly SheetPicture[]
  /** Where finished units lie. */
  root: string
  /** Where the file of a sound lies. */
  soundFile: (sha256: string) => string
}

/**
 * Renders one row: checks it, looks for a finished unit of the same key, else draws into a folder of another name and
 * moves that into place whole. A row with a *stop* is held, with what was found.
 */
export async function renderUnit(order: UnitOrder, raster: Raster): Promise<UnitResult> {
  const { scene, root } = order
  const { frames = order.settings.frames } = order.row
  const settings: OutputSettings = { ...order.settings, ...(frames === undefined ? {} : { frames }) }
  const { values, findings, settled } = checkRow(scene, order.match, order.row, order.n, settings.frames)
  if (stateOf(findings) === 'stop')
    return { state: 'held', findings: findings.filter((f) => f.level === 'stop'), values }
  const key = unitKey(order.document, values, settings, picturesOf(values, order.pictures))
  const known = readFinished(root, key)
  if (known) return { state: 'done', finished: known, found: true, values }
  const folder = finishedFolder(root, key)
  const work = `${folder}.${randomUUID()}.part`
  mkdirSync(work, { recursive: true })
  try {
    const plan = planTitle(scene, settled, scene.timing(settings.frames))
    const size = scene.template.frame
    const isPng = settings.format === 'png'
    const file = isPng ? 'pictures' : `title.${settings.format}`
    const path = join(work, file)
    const pictures = isPng ? writePictures(path, pngPictures(plan, raster, size)) : []
    if (settings.format !== 'png') {
      const timing = scene.timing(settings.frames)
      const sounds = soundStarts(scene.template, timing).map(({ sound, frame }) => ({
        file: order.soundFile(sound.sha256),
        at: secondsOf(frame, size.rate),
        level: sound.level,
      }))
      const seconds = secondsOf(timing.total, size.rate)
      await encodeMovie(settings.format, size, rawFrames(plan, raster, size), path, { sounds, seconds })
    }
    const finished: Finished = {
      key,
      format: settings.format,
      file,
      bytes: statSync(path).size,
      pictures,
      frames: isPng ? plan.frames : [],
    }
    writeWhole(join(work, 'unit.json'), JSON.stringify(finished))
    if (!existsSync(folder)) renameSync(work, folder)
    return { state: 'done', finished, found: false, values }
  } finally {
    rmSync(work, { recursive: true, force: true })
  }
}

/** Writes pictures behind one another into one file, synced once. */
function writePictures(path: string, pictures: Iterable<Uint8Array>): Finished['pictures'] {
  const places: Finished['pictures'] = []
  const file = openSync(path, 'w')
  try {
    let at = 0
    for (const picture of pictures) {
      for (let written = 0; written < picture.length; ) written += writeSync(file, picture, written)
      places.push({ at, length: picture.length })
      at += picture.length
    }
    fsyncSync(file)
  } finally {
    closeSync(file)
  }
  return places
}
