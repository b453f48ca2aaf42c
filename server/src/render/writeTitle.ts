import { createHash } from 'node:crypto'
import { closeSync, fsyncSync, openSync, readSync, statSync, writeFileSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import { deflateSync } from 'node:zlib'
import type { Match, Row } from '@hoja/core/data'
import { ApngWriter } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'
import { soundStarts, type Timing } from '@hoja/core/motion'
import {
  type OutputSettings,
  outputFormats,
  piecesOf,
  runsOf,
  type Stretches,
  spansOf,
  stretchesOf,
  suffixesOf,
  type TitleFile,
} from '@hoja/core/output'
import type { Layout, Scene } from '@hoja/core/scene'
import type { PartId, Template } from '@hoja/core/template'
import { frameOfTimecode, isDropFrame, type Rate, secondsOf, timecodeOf } from '@hoja/core/time'
import { hashOfFiles } from '../store/files.ts'
import type { SheetPicture } from '../store/sheets.ts'
import type { Finished, FinishedFile } from './finished.ts'
import { makeRoom } from './memory.ts'
import { type Movie, partOf, type Writing } from './movie/movie.ts'
import { webpOf } from './movie/webp.ts'
import { writeMovie } from './movie/write.ts'
import { pictureCoder } from './pictures/coder.ts'
import { movieOf, planTitle, type TitleChange, woven } from './plan.ts'
import type { Raster } from './raster.ts'
import { framePng, frameSvg } from './still.ts'

export interface TitleOrder {
  /** For the frame of the output. */
  scene: Scene
  /** The same at the rate that it is drawn at: of two fields a frame, twice as often. */
  drawn: Scene
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
  /** Where finished titles lie. */
  root: string
  /** Where a stored file lies: a sound, a backdrop. */
  storedFile: (sha256: string) => string
  /** Hears how many pictures of how many are done. */
  onPicture?: (done: number, of: number) => void
}

type Written = Omit<Finished, 'key' | 'format'>

/** Writes a title's files into a folder: as they are ordered, in pieces, or one frame of it. */
export async function writeTitle(
  order: TitleOrder,
  layout: Layout,
  duration: number | undefined,
  work: string,
  raster: Raster,
  change?: TitleChange,
): Promise<Written> {
  const { scene, settings } = order
  const { format } = settings
  const timing = scene.timing(layout, duration)
  const only = order.only && new Set(order.only)
  if (outputFormats[format].still) return writeStill(order, layout, timing, work, raster)
  const whole = wholeTitle(order, layout, timing, raster, only, change)
  const { rate, frames, pictures } = whole
  const told = { frames: frames.length, pictures, rate }
  const stretches = stretchesOf(timing, settings.handles)
  const pieces = settings.pieces
    ? piecesOf(scene.template.spans, stretches)
    : [{ from: 0, count: frames.length } as TitleFile]
  const suffixes = suffixesOf(
    settings,
    pieces.map(({ piece }) => piece),
  )
  const files: FinishedFile[] = []
  for (const [n, piece] of pieces.entries()) {
    const movie = pieces.length > 1 || piece.piece ? partOf(whole, piece.from, piece.count) : whole
    const onPicture = (done: number, of: number) =>
      order.onPicture?.((n + done / Math.max(1, of)) * pictures, pieces.length * pictures)
    const about = {
      frames: piece.count,
      ...(piece.piece ? { piece: piece.piece } : {}),
      spans: within(stretches, piece),
    }
    const own = suffixes.slice((n * suffixes.length) / pieces.length, ((n + 1) * suffixes.length) / pieces.length)
    const made = await writePiece(order, movie, piece, own, timing, work, onPicture)
    files.push(...made.map((file) => ({ ...file, ...about })))
  }
  return { files, ...told, ...(settings.marks && !settings.pieces ? { marks: true } : {}) }
}

/** Of each stretch the frames that a piece holds. */
function within(stretches: Stretches, { from, count }: TitleFile): Stretches {
  let start = 0
  const names = ['before', 'in', 'hold', 'out', 'after'] as const
  return Object.fromEntries(
    names.map((name) => {
      const [first, end] = [Math.max(start, from), Math.min(start + stretches[name], from + count)]
      start += stretches[name]
      return [name, Math.max(0, end - first)]
    }),
  ) as unknown as Stretches
}

/** A title with its handles, drawn as its frames come: of two fields each, twice as often. */
function wholeTitle(
  { scene, drawn, settings }: TitleOrder,
  layout: Layout,
  timing: Timing,
  raster: Raster,
  only: ReadonlySet<PartId> | undefined,
  change: TitleChange | undefined,
): Movie {
  const { handles } = settings
  const { rate } = scene.template.frame
  if (drawn === scene) return movieOf(planTitle(scene, layout, timing, handles, only, change), raster, scene)
  const again = drawn.layout(layout.values)
  const twice = drawn.timing(again, 2 * timing.total)
  const each = handles && { before: 2 * handles.before, after: 2 * handles.after }
  const plan = planTitle(drawn, again, twice, each, only, change && { ...change, at: 2 * change.at })
  return woven(movieOf(plan, raster, drawn), settings.fields!, rate)
}

type Made = Pick<FinishedFile, 'file' | 'suffix' | 'bytes' | 'sha256' | 'sequence'>

/** Writes one piece of a title, or all of it. */
async function writePiece(
  order: TitleOrder,
  movie: Movie,
  piece: TitleFile,
  suffixes: readonly string[],
  timing: Timing,
  work: string,
  onPicture: (done: number, of: number) => void,
): Promise<Made[]> {
  const { format, alpha } = order.settings
  const names = suffixes.map((suffix) => `title${suffix}`)
  const paths = names.map((name) => join(work, name))
  if (outputFormats[format].pictures) {
    const name = `pictures${suffixes[0]}`
    const { places, sha256 } = await writeSequence(
      join(work, name),
      movie,
      pictureCoder(format, movie, alpha),
      onPicture,
    )
    const { size } = statSync(join(work, name))
    const sequence = { pictures: places, frames: movie.frames }
    return [{ file: name, suffix: suffixes[0]!, bytes: size, sha256, sequence }]
  }
  if (format === 'apng') writeSynced(paths[0]!, animated(movie, onPicture))
  else await writeMovie(format, movie, paths, { ...writingOf(order, timing, piece), onPicture })
  const all = await Promise.all(names.map((name) => described(work, name)))
  return all.map((one, i) => ({ ...one, suffix: suffixes[i]! }))
}

function writingOf(
  { scene, settings, storedFile }: TitleOrder,
  timing: Timing,
  { piece, from, count }: TitleFile,
): Writing {
  const { alpha, backdrop, timecode, silent, handles, marks } = settings
  const { rate } = scene.template.frame
  const before = handles?.before ?? 0
  // A sound that began in another piece is not taken up in the middle.
  const sounds = silent
    ? []
    : soundStarts(scene.template, timing)
        .map(({ sound, frame }) => ({ sound, frame: frame + before - from }))
        .filter(({ frame }) => frame >= 0 && frame < count)
        .map(({ sound, frame }) => ({
          file: storedFile(sound.sha256),
          at: secondsOf(frame, rate),
          level: sound.level,
        }))
  return {
    sounds,
    ...(alpha ? { alpha } : {}),
    ...(timecode ? { timecode: laterTimecode(timecode, from, rate) } : {}),
    ...(marks && !piece ? { marks: spansOf(stretchesOf(timing, handles)) } : {}),
    ...(backdrop
      ? {
          backdrop: backdrop.kind === 'colour' ? backdrop : { kind: backdrop.kind, file: storedFile(backdrop.sha256) },
        }
      : {}),
  }
}

/** The timecode so many frames later. */
function laterTimecode(timecode: string, frames: number, rate: Rate): string {
  return frames === 0 ? timecode : timecodeOf(frameOfTimecode(timecode, rate) + frames, rate, isDropFrame(timecode))
}

/** One frame of a title: the settled one, or the one that was asked for. */
async function writeStill(
  { scene, settings, only: parts }: TitleOrder,
  layout: Layout,
  timing: Timing,
  work: string,
  raster: Raster,
): Promise<Written> {
  const { format, at, alpha } = settings
  const { width, height, rate } = scene.template.frame
  const asked = at === 'poster' ? scene.posterFrame : (at ?? scene.settled(layout, timing))
  const frame = Math.min(asked, timing.total - 1)
  const list = scene.posed(layout, timing, frame).drawList(parts && new Set(parts))
  const [suffix] = outputFormats[format].endings
  const file = `title${suffix}`
  const region = { x: 0, y: 0, width, height }
  const movie = movieOf({ pictures: 1, list: () => list, frames: [0], region }, raster, scene)
  const bytes = await {
    svg: () => frameSvg(list),
    'still-tiff': () => pictureCoder('tiff', movie, alpha)(0),
    'still-webp': () => webpOf(movie),
    still: () => framePng(list, raster),
  }[format as 'still']()
  writeSynced(join(work, file), bytes)
  return { files: [{ ...(await described(work, file)), suffix: suffix!, frames: 1 }], frames: 1, pictures: 1, rate }
}

async function described(work: string, file: string): Promise<Pick<FinishedFile, 'file' | 'bytes' | 'sha256'>> {
  const path = join(work, file)
  return { file, bytes: statSync(path).size, sha256: await hashOfFiles(path) }
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
function animated(movie: Movie, onPicture: (done: number, of: number) => void): Uint8Array {
  const { width, height, region, frames, pictures } = movie
  const writer = new ApngWriter(movie, (raw) => deflateSync(raw, { level: 6 }))
  for (const { picture, from, count } of runsOf(frames)) {
    const drawn = movie.draw(picture)
    if (from === 0) writer.add(inFrame(drawn, region, width, height), count)
    else writer.add(drawn, count, region)
    onPicture(picture + 1, pictures)
  }
  return writer.bytes()
}

/** A region's pixels in their frame, with nothing around them. */
function inFrame(rgba: Uint8ClampedArray, region: Box, width: number, height: number): Uint8ClampedArray {
  const whole = new Uint8ClampedArray(width * height * 4)
  const line = region.width * 4
  for (let y = 0; y < region.height; y++)
    whole.set(rgba.subarray(y * line, (y + 1) * line), ((region.y + y) * width + region.x) * 4)
  return whole
}

/** Writes a sequence's pictures behind one another into one file, synced once. */
async function writeSequence(
  path: string,
  { pictures, frames, region }: Movie,
  coded: (picture: number) => Uint8Array,
  onPicture: (done: number, of: number) => void,
): Promise<{ places: { at: number; length: number }[]; sha256: string }> {
  const places: { at: number; length: number }[] = []
  const file = openSync(path, 'w+')
  const hash = createHash('sha256')
  try {
    let at = 0
    for (let picture = 0; picture < pictures; picture++) {
      const bytes = coded(picture)
      for (let written = 0; written < bytes.length; ) written += writeSync(file, bytes, written)
      places.push({ at, length: bytes.length })
      at += bytes.length
      onPicture(picture + 1, pictures)
      // Deep pixels are read as floats, and kept as 16 bits beside.
      await makeRoom(region.width * region.height * 24)
    }
    fsyncSync(file)
    let last = -1
    let bytes = Buffer.alloc(0)
    for (const picture of frames) {
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
