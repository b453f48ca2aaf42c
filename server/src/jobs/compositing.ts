import { join } from 'node:path'
import { KnownNames } from '@hoja/core/data'
import type { Pixels } from '@hoja/core/paint'
import {
  type ClipFinding,
  type ClipId,
  compositeFrame,
  drawnFor,
  ProgrammeChecker,
  type StoredFrame,
  seenAt,
  storedUnder,
  titlesOf,
} from '@hoja/core/programme'
import type { Scene } from '@hoja/core/scene'
import { FramePng } from '../render/pictures/png.ts'
import { movieFrame } from '../render/proxy.ts'
import { decodePicture, Raster } from '../render/raster.ts'
import { sceneOf } from '../render/scenes.ts'
import { framePng } from '../render/still.ts'
import { readRegular } from '../store/files.ts'
import type { Of } from './tasks.ts'

/** A frame of a movie as PNG, as the composite has it. */
export async function footageFrame({ file, frame }: Of<'footageFrame'>): Promise<Uint8Array> {
  const { width, height, rgba } = await movieFrame(file.path, file.name, frame)
  // Fast: it is looked at once.
  return new FramePng(width, height, { x: 0, y: 0, width, height }, 1).encode(rgba)
}

let raster: Raster | undefined

/** A programme's picture at a frame, as PNG: what the page paints while it stands there, to the byte. */
export async function programmeFrame({
  programme,
  frame,
  sources,
  files,
  now,
}: Of<'programmeFrame'>): Promise<Uint8Array> {
  const scenes = new Map<string, Scene>()
  const pixels = new Map<string, Pixels>()
  for (const { clip } of seenAt(programme, frame)) {
    if (clip.kind === 'title') {
      scenes.set(
        `${clip.design} ${clip.shape ?? ''}`,
        await sceneOf(sources[clip.design]!, drawnFor(programme, clip.shape)),
      )
      continue
    }
    const under = storedUnder(programme, frame)
    if (!under) continue
    const own = await storedPixels(files, under)
    pixels.set(own.id, own)
  }
  const list = compositeFrame(programme, frame, {
    sceneOf: (design, shape) => scenes.get(`${design} ${shape ?? ''}`),
    pixelsOf: (sha256, own) => pixels.get(`${sha256} ${own}`),
    now,
  })
  raster ??= new Raster()
  return framePng(list, raster)
}

/** A stored still, or a frame of a stored movie. */
async function storedPixels(files: string, { medium: { kind, name, sha256 }, frame }: StoredFrame): Promise<Pixels> {
  const path = join(files, sha256.slice(0, 2), sha256)
  const id = `${sha256} ${frame}`
  if (kind === 'still') return decodePicture(readRegular(path), name, id)
  return { id, ...(await movieFrame(path, name, frame)) }
}

/** ms for which titles are looked at over their movies; the others over black, white and grey. */
const overMovies = 60_000

/** What is found about the titles of a programme, by clip. */
export async function checkProgramme({
  programme,
  sources,
  files,
  known,
  now,
}: Of<'checkProgramme'>): Promise<Map<ClipId, ClipFinding[]>> {
  raster ??= new Raster()
  const pixels = new Map<string, Pixels>()
  const stored = { pixelsOf: (sha256: string, frame: number) => pixels.get(`${sha256} ${frame}`) }
  const checker = new ProgrammeChecker(new KnownNames(known), now, raster.looks, stored)
  const until = performance.now() + overMovies
  for (const { id, clip } of titlesOf(programme)) {
    if (!checker.can(programme, id))
      checker.setScene(clip.design, clip.shape, await sceneOf(sources[clip.design]!, drawnFor(programme, clip.shape)))
    pixels.clear()
    for (const one of checker.wants(programme, id)) {
      if (one.medium.kind === 'movie' && performance.now() > until) continue
      // Over what cannot be had it is looked at as over nothing.
      const own = await storedPixels(files, one).catch(() => undefined)
      if (own) pixels.set(own.id, own)
    }
    checker.look(programme, id)
  }
  return checker.findings(programme)
}
