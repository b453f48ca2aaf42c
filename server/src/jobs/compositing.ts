import { join } from 'node:path'
import { KnownNames } from '@hoja/core/data'
import type { Pixels } from '@hoja/core/paint'
import {
  type ClipFinding,
  type ClipId,
  compositeFrame,
  drawnFor,
  mediumFrame,
  mediumOf,
  ProgrammeChecker,
  seenAt,
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
  const storedAt = (sha256: string) => join(files, sha256.slice(0, 2), sha256)
  for (const { clip } of seenAt(programme, frame)) {
    if (clip.kind === 'title') {
      scenes.set(
        `${clip.design} ${clip.shape ?? ''}`,
        await sceneOf(sources[clip.design]!, drawnFor(programme, clip.shape)),
      )
      continue
    }
    const medium = mediumOf(programme, clip)
    if (medium.kind === 'still')
      pixels.set(
        `${medium.sha256} 0`,
        await decodePicture(readRegular(storedAt(medium.sha256)), medium.name, medium.sha256),
      )
    if (medium.kind !== 'movie') continue
    const own = mediumFrame(programme, clip, frame)
    const id = `${medium.sha256} ${own}`
    pixels.set(id, { id, ...(await movieFrame(storedAt(medium.sha256), medium.name, own)) })
  }
  const list = compositeFrame(programme, frame, {
    sceneOf: (design, shape) => scenes.get(`${design} ${shape ?? ''}`),
    pixelsOf: (sha256, own) => pixels.get(`${sha256} ${own}`),
    now,
  })
  raster ??= new Raster()
  return framePng(list, raster)
}

/** What is found about the titles of a programme, by clip. */
export async function checkProgramme({
  programme,
  sources,
  known,
  now,
}: Of<'checkProgramme'>): Promise<Map<ClipId, ClipFinding[]>> {
  raster ??= new Raster()
  const checker = new ProgrammeChecker(new KnownNames(known), now, raster.looks)
  for (const { id, clip } of titlesOf(programme)) {
    if (!checker.can(programme, id))
      checker.setScene(clip.design, clip.shape, await sceneOf(sources[clip.design]!, drawnFor(programme, clip.shape)))
    checker.look(programme, id)
  }
  return checker.findings(programme)
}
