import { createHash, randomUUID } from 'node:crypto'
import {
  closeSync,
  existsSync,
  fsyncSync,
  openSync,
  readdirSync,
  readFileSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
  writeSync,
} from 'node:fs'
import { dirname, join } from 'node:path'
import { deflateSync } from 'node:zlib'
import { checkRow, type Finding, type Match, type Row, stateOf } from '@hoja/core/data'
import { ApngWriter } from '@hoja/core/formats'
import { settledFrame, soundStarts } from '@hoja/core/motion'
import { durationOf, type FormatId, type OutputSettings, outputFormats, picturedBy, runsOf } from '@hoja/core/output'
import type { Scene, Settled } from '@hoja/core/scene'
import type { PartId, Template, Values } from '@hoja/core/template'
import { type Rate, secondsOf } from '@hoja/core/time'
import { hashOf, makeFolder, syncFolder, writeWhole } from '../store/files.ts'
import type { SheetPicture } from '../store/sheets.ts'
import { type Writing, writeMovie } from './encode.ts'
import type { Raster } from './raster.ts'
import { framePng, frameSvg } from './still.ts'
import { movieOf, type Plan, planTitle } from './title.ts'

/** Raised whenever the same input would give other bytes than before, so that old results are not found again. */
const engine = 5

/** One file of a finished unit. */
export interface FinishedFile {
  /** Its name in the unit's folder. */
  file: string
  bytes: number
  /** Of the file; of a sequence, of its pictures behind one another, frame by frame. */
  sha256: string
}

/** What a finished unit says of itself, in `unit.json` beside its files. */
export interface Finished {
  key: string
  format: FormatId
  /** In the order of the format's endings. A sequence has one: every distinct picture, behind one another. */
  files: FinishedFile[]
  frames: number
  /** Of them, those that differ. */
  pictures: number
  rate: Rate
  /** Sequences: where each distinct picture lies in the file, and which of them every frame shows. */
  sequence?: { pictures: { at: number; length: number }[]; frames: readonly number[] }
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

/** What a title is made of. */
export interface Content {
  /** SHA-256 of the version's document. */
  document: string
  values: Values
  /** Pictures that came with the sheet. */
  pictures: readonly SheetPicture[]
  settings: OutputSettings
  /** Frames of this title; absent: as designed. */
  frames: number | undefined
  /** The parts that are drawn; absent: all. */
  only?: readonly PartId[]
}

/** Names a title's files by all they depend on: the version's document, the row's values and pictures, the settings. */
export function unitKey({ document, values, pictures, settings, frames, only }: Content): string {
  const sorted = Object.fromEntries(Object.entries(values).sort(([a], [b]) => (a < b ? -1 : 1)))
  const { frames: _, ...seen } = picturedBy(settings)
  const shown = picturesOf(values, pictures)
  return hashOf(
    JSON.stringify({
      engine,
      document,
      values: sorted,
      ...seen,
      ...(frames === undefined ? {} : { frames }),
      ...(shown.length > 0 ? { pictures: shown } : {}),
      ...(only ? { only: [...only].sort() } : {}),
    }),
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
  /** For the frame of the output. */
  scene: Scene
  /** The template as it was designed, whose rate a row's own frames count at. */
  designed: Pick<Template, 'frame'>
  document: string
  match: Match
  row: Row
  /** From 1. */
  n: number
  settings: OutputSettings
  pictures: readonly SheetPicture[]
  only?: readonly PartId[]
  /** Where finished units lie. */
  root: string
  /** Where a stored file lies: a sound, a backdrop. */
  storedFile: (sha256: string) => string
  /** Hears how many pictures of how many are done. */
  onPicture?: (done: number, of: number) => void
}

/**
 * Renders one row: checks it, looks for a finished unit of the same key, else draws into a folder of another name and
 * moves that into place whole. A row with a *stop* is held, with what was found.
 */
export async function renderUnit(order: UnitOrder, raster: Raster): Promise<UnitResult> {
  const { scene, root, settings, document, pictures, only } = order
  const frames = durationOf(settings, order.designed, order.match, order.row)
  const { values, findings, settled } = only
    ? posterOf(scene)
    : checkRow(scene, order.match, order.row, order.n, frames)
  if (stateOf(findings) === 'stop')
    return { state: 'held', findings: findings.filter((f) => f.level === 'stop'), values }
  const key = unitKey({ document, values, pictures, settings, frames, ...(only ? { only } : {}) })
  const known = readFinished(root, key)
  if (known) return { state: 'done', finished: known, found: true, values }
  const folder = finishedFolder(root, key)
  const work = `${folder}.${randomUUID()}.part`
  makeFolder(work)
  try {
    const written = await writeUnit(order, settled, frames, work, raster)
    const finished: Finished = { key, format: settings.format, ...written }
    writeWhole(join(work, 'unit.json'), JSON.stringify(finished))
    movedIntoPlace(work, folder)
    return { state: 'done', finished, found: false, values }
  } finally {
    rmSync(work, { recursive: true, force: true })
  }
}

/** Parts by themselves are drawn as on the poster, and are no title that could be wrong. */
function posterOf(scene: Scene): { values: Values; findings: Finding[]; settled: Settled } {
  const { values } = scene.template.poster
  return { values, findings: [], settled: scene.settle(values) }
}

/** Two rows may have been the same title and rendered at once: the first one's files stay. */
function movedIntoPlace(work: string, folder: string): void {
  try {
    renameSync(work, folder)
  } catch (error) {
    if (!existsSync(join(folder, 'unit.json'))) throw error
  }
  syncFolder(dirname(folder))
}

type Written = Omit<Finished, 'key' | 'format'>

/** Writes a title's files into a folder. */
async function writeUnit(
  order: UnitOrder,
  settled: Settled,
  duration: number | undefined,
  work: string,
  raster: Raster,
): Promise<Written> {
  const { scene, settings } = order
  const { format } = settings
  const { rate } = scene.template.frame
  const timing = scene.timing(duration)
  const only = order.only && new Set(order.only)
  const facts = outputFormats[format]
  const names = facts.endings.map((ending) => `title${ending}`)
  const paths = names.map((name) => join(work, name))
  if (facts.still) {
    const list = scene.posed(settled, timing, settledFrame(timing)).drawList(only)
    writeSynced(paths[0]!, format === 'svg' ? frameSvg(list) : framePng(list, raster))
    return { files: names.map((name) => described(work, name)), frames: 1, pictures: 1, rate }
  }
  const plan = planTitle(scene, settled, timing, settings.handles, only)
  const told = { frames: plan.frames.length, pictures: plan.lists.length, rate }
  const onPicture = (done: number) => order.onPicture?.(done, plan.lists.length)
  if (format === 'png') {
    const { places, sha256 } = writeSequence(join(work, 'pictures'), plan, movieOf(plan, raster, scene).png, onPicture)
    const { size } = statSync(join(work, 'pictures'))
    return {
      files: [{ file: 'pictures', bytes: size, sha256 }],
      ...told,
      sequence: { pictures: places, frames: plan.frames },
    }
  }
  if (format === 'apng') {
    writeSynced(paths[0]!, animated(plan, raster, scene, onPicture))
  } else {
    const writing = { ...writingOf(order, timing), ...(order.onPicture ? { onPicture: order.onPicture } : {}) }
    await writeMovie(format, movieOf(plan, raster, scene), paths, writing)
  }
  return { files: names.map((name) => described(work, name)), ...told }
}

function writingOf({ scene, settings, storedFile }: UnitOrder, timing: ReturnType<Scene['timing']>): Writing {
  const { alpha, backdrop, timecode, silent, handles } = settings
  const { rate } = scene.template.frame
  const sounds = silent
    ? []
    : soundStarts(scene.template, timing).map(({ sound, frame }) => ({
        file: storedFile(sound.sha256),
        at: secondsOf(frame + (handles?.before ?? 0), rate),
        level: sound.level,
      }))
  return {
    sounds,
    ...(alpha ? { alpha } : {}),
    ...(timecode ? { timecode } : {}),
    ...(backdrop
      ? {
          backdrop: backdrop.kind === 'colour' ? backdrop : { kind: backdrop.kind, file: storedFile(backdrop.sha256) },
        }
      : {}),
  }
}

function described(work: string, file: string): FinishedFile {
  const path = join(work, file)
  const hash = createHash('sha256')
  const piece = Buffer.alloc(1 << 20)
  const handle = openSync(path, 'r')
  try {
    for (let read = readSync(handle, piece); read > 0; read = readSync(handle, piece))
      hash.update(piece.subarray(0, read))
  } finally {
    closeSync(handle)
  }
  return { file, bytes: statSync(path).size, sha256: hash.digest('hex') }
}

function writeSynced(path: string, bytes: Uint8Array | string): void {
  const file = openSync(path, 'w')
  try {
    writeFileSync(file, bytes)
    fsyncSync(file)
  } finally {
    closeSync(file)
  }
}

/** An animated PNG whose held frames are one that stands longer. The first covers the canvas, the others what changes. */
function animated(plan: Plan, raster: Raster, scene: Scene, onPicture: (done: number) => void): Uint8Array {
  const { width, height } = scene.template.frame
  const writer = new ApngWriter(scene.template.frame, (raw) => deflateSync(raw, { level: 6 }))
  const whole = { x: 0, y: 0, width, height }
  for (const { picture, from, count } of runsOf(plan.frames)) {
    const area = from === 0 ? whole : plan.region
    writer.add(raster.draw(plan.lists[picture]!, area), count, area)
    onPicture(picture + 1)
  }
  return writer.bytes()
}

/** Writes a sequence's pictures behind one another into one file, synced once. */
function writeSequence(
  path: string,
  plan: Plan,
  png: (picture: number) => Uint8Array,
  onPicture: (done: number) => void,
): { places: { at: number; length: number }[]; sha256: string } {
  const places: { at: number; length: number }[] = []
  const file = openSync(path, 'w+')
  const hash = createHash('sha256')
  try {
    let at = 0
    for (let picture = 0; picture < plan.lists.length; picture++) {
      const bytes = png(picture)
      for (let written = 0; written < bytes.length; ) written += writeSync(file, bytes, written)
      places.push({ at, length: bytes.length })
      at += bytes.length
      onPicture(picture + 1)
    }
    fsyncSync(file)
    let last = -1
    let bytes = Buffer.alloc(0)
    for (const picture of plan.frames) {
      if (picture !== last) {
        const place = places[picture]!
        bytes = Buffer.alloc(place.length)
        readSync(file, bytes, 0, place.length, place.at)
        last = picture
      }
      hash.update(bytes)
    }
  } finally {
    closeSync(file)
  }
  return { places, sha256: hash.digest('hex') }
}
