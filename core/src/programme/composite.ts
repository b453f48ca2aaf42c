import { cached } from '../cache/index.ts'
import { saysAbout, valuesOf } from '../data/index.ts'
import { rowInOrder } from '../output/index.ts'
import type { DrawList, Item, Pixels } from '../paint/index.ts'
import type { Scene } from '../scene/index.ts'
import type { Values } from '../template/index.ts'
import { mediumOf, type Placed, seenAt, sourceFrame, timecodeIn, titlesOf } from './clips.ts'
import type { FootageClip, Programme, TitleClip, Words } from './description.ts'
import { clipMatch, clipRow } from './rows.ts'
import { shotFrame } from './shot.ts'

/** What a programme's picture is made of. */
export interface Sources {
  /** The scene of a design, for the programme's picture (`drawnFor`), in a shape; undefined: not there yet. */
  sceneOf(design: string, shape: string | undefined): Scene | undefined
  /** A stored still, or the frame of a movie (from 0, of its own rate); undefined: not there yet. */
  pixelsOf(sha256: string, frame: number): Pixels | undefined
  /** The moment that *now* is in titles, local, as ISO 8601 has it. */
  now: string
}

const filled = new WeakMap<Scene, WeakMap<Words, Values>>()

/** The values that a title fills its template with. */
export function valuesOfClip(scene: Scene, programme: Programme, { id, clip }: Placed<TitleClip>, now: string): Values {
  const { template } = scene
  const match = clipMatch(template)
  // What a title is made among changes with every edit; most say nothing of it.
  if (saysAbout(template)) {
    const all = titlesOf(programme)
    const order = { now, rate: programme.picture.rate }
    const place = [all.findIndex((one) => one.id === id) + 1, all.length] as const
    return valuesOf(template, match, rowInOrder(order, template, match, clipRow(programme, clip), place)).values
  }
  const known = cached(filled, scene, () => new WeakMap<Words, Values>()) as WeakMap<Words, Values>
  return cached(known, programme.words[clip.words]!, () => valuesOf(template, match, clipRow(programme, clip)).values)
}

/** What a title shows at a frame of the programme, px of its picture. */
export function titleFrame(
  scene: Scene,
  programme: Programme,
  title: Placed<TitleClip>,
  frame: number,
  now: string,
): DrawList {
  const { clip } = title
  const layout = scene.layout(valuesOfClip(scene, programme, title, now))
  const least = scene.shortest(layout)
  const timing = scene.timing(layout, clip.frames >= least ? clip.frames : undefined)
  return scene.frame(layout, timing, Math.min(frame - clip.at, timing.total - 1))
}

/** Pixels that fill a picture's width or height, in its middle. */
function fitted(pixels: Pixels, { width, height }: { width: number; height: number }): Item {
  const scale = Math.min(width / pixels.width, height / pixels.height)
  const own = { width: pixels.width * scale, height: pixels.height * scale }
  return { kind: 'picture', pixels, bounds: { x: (width - own.width) / 2, y: (height - own.height) / 2, ...own } }
}

/** Which frame of its medium, of its own rate, a clip shows at a frame of the programme. */
export function mediumFrame(programme: Programme, clip: FootageClip, frame: number): number {
  const medium = mediumOf(programme, clip)
  const own = frame - clip.at + clip.from
  return medium.kind === 'movie' ? sourceFrame(own, medium.rate, programme.picture.rate) : own
}

function footageItems(programme: Programme, clip: FootageClip, frame: number, { pixelsOf }: Sources): Item[] {
  const medium = mediumOf(programme, clip)
  if (medium.kind === 'sound') return []
  const own = mediumFrame(programme, clip, frame)
  if (medium.kind === 'shot') return shotFrame(medium.scene, own, timecodeIn(programme, frame), programme.picture).items
  const pixels = pixelsOf(medium.sha256, medium.kind === 'still' ? 0 : own)
  return pixels ? [fitted(pixels, programme.picture)] : []
}

/** The titles of a programme at a frame, from the bottom to the top. */
export function titlesAt(programme: Programme, frame: number, sources: Sources): DrawList[] {
  return seenAt(programme, frame).flatMap((placed) => {
    if (placed.clip.kind !== 'title') return []
    const scene = sources.sceneOf(placed.clip.design, placed.clip.shape)
    return scene ? [titleFrame(scene, programme, placed as Placed<TitleClip>, frame, sources.now)] : []
  })
}

/** A programme's picture at a frame: footage on black, and the titles over it. Preview and render paint this. */
export function compositeFrame(programme: Programme, frame: number, sources: Sources): DrawList {
  const { width, height } = programme.picture
  const ground: Item = {
    kind: 'path',
    d: `M0 0H${width}V${height}H0Z`,
    bounds: { x: 0, y: 0, width, height },
    fill: '#000000',
  }
  const items = seenAt(programme, frame).flatMap((placed): Item[] => {
    if (placed.clip.kind === 'footage') return footageItems(programme, placed.clip, frame, sources)
    const scene = sources.sceneOf(placed.clip.design, placed.clip.shape)
    return scene ? titleFrame(scene, programme, placed as Placed<TitleClip>, frame, sources.now).items : []
  })
  return { width, height, items: [ground, ...items] }
}
