import { cached } from '../cache/index.ts'
import { saysAbout, valuesOf } from '../data/index.ts'
import type { Box } from '../geometry/index.ts'
import { rowInOrder } from '../output/index.ts'
import type { DrawList, Item, Pixels } from '../paint/index.ts'
import type { Scene } from '../scene/index.ts'
import type { Values } from '../template/index.ts'
import { footageAt, mediumOf, type Placed, seenAt, sourceFrame, timecodeIn, titlesOf } from './clips.ts'
import type { FootageClip, Medium, Programme, TitleClip, Words } from './description.ts'
import { clipMatch, clipRow } from './rows.ts'
import { shotFrame } from './shot.ts'

/** The pictures that a programme's media have. */
export interface Stored {
  /** A stored still, or the frame of a movie (from 0, of its own rate); undefined: not there yet. */
  pixelsOf(sha256: string, frame: number): Pixels | undefined
}

/** A stored still, or a frame (from 0, of its own rate) of a stored movie. */
export interface StoredFrame {
  medium: Extract<Medium, { kind: 'still' | 'movie' }>
  frame: number
}

/** What a programme's picture is made of. */
export interface Sources extends Stored {
  /** The scene of a design, for the programme's picture (`drawnFor`), in a shape; undefined: not there yet. */
  sceneOf(design: string, shape: string | undefined): Scene | undefined
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

/** Where a medium of a size lies in a picture: as large as it can, in the middle. */
function fitted(own: { width: number; height: number }, { width, height }: { width: number; height: number }): Box {
  const scale = Math.min(width / own.width, height / own.height)
  const size = { width: own.width * scale, height: own.height * scale }
  return { x: (width - size.width) / 2, y: (height - size.height) / 2, ...size }
}

/** Which frame of its medium, of its own rate, a clip shows at a frame of the programme. */
export function mediumFrame(programme: Programme, clip: FootageClip, frame: number): number {
  const medium = mediumOf(programme, clip)
  const own = frame - clip.at + clip.from
  return medium.kind === 'movie' ? sourceFrame(own, medium.rate, programme.picture.rate) : own
}

/** A piece of a picture: what is drawn, or the frame of a movie (from 0, of its own rate) and where it lies. */
export type Piece = { kind: 'items'; items: Item[] } | { kind: 'movie'; sha256: string; frame: number; bounds: Box }

function footagePiece(programme: Programme, clip: FootageClip, frame: number, { pixelsOf }: Stored): Piece {
  const medium = mediumOf(programme, clip)
  const { picture } = programme
  const own = mediumFrame(programme, clip, frame)
  switch (medium.kind) {
    case 'sound':
      return { kind: 'items', items: [] }
    case 'shot':
      return { kind: 'items', items: shotFrame(medium.scene, own, timecodeIn(programme, frame), picture).items }
    case 'still': {
      const pixels = pixelsOf(medium.sha256, 0)
      return { kind: 'items', items: pixels ? [{ kind: 'picture', pixels, bounds: fitted(medium, picture) }] : [] }
    }
    case 'movie':
      return { kind: 'movie', sha256: medium.sha256, frame: own, bounds: fitted(medium, picture) }
  }
}

function blackOf({ picture: { width, height } }: Programme): Item {
  return {
    kind: 'path',
    d: `M0 0H${width}V${height}H0Z`,
    bounds: { x: 0, y: 0, width, height },
    fill: '#000000',
  }
}

/** A programme's picture at a frame in pieces, from the bottom to the top: black, footage, titles. */
export function compositePieces(programme: Programme, frame: number, sources: Sources): Piece[] {
  const pieces = seenAt(programme, frame).flatMap((placed): Piece[] => {
    if (placed.clip.kind === 'footage') return [footagePiece(programme, placed.clip, frame, sources)]
    const scene = sources.sceneOf(placed.clip.design, placed.clip.shape)
    if (!scene) return []
    const { items } = titleFrame(scene, programme, placed as Placed<TitleClip>, frame, sources.now)
    return [{ kind: 'items', items }]
  })
  return [{ kind: 'items', items: [blackOf(programme)] }, ...pieces]
}

/** A programme's picture at a frame. Preview and render paint this. */
export function compositeFrame(programme: Programme, frame: number, sources: Sources): DrawList {
  const { width, height } = programme.picture
  const items = compositePieces(programme, frame, sources).flatMap((piece) => itemsOf(piece, sources))
  return { width, height, items }
}

function itemsOf(piece: Piece, { pixelsOf }: Stored): Item[] {
  if (piece.kind === 'items') return piece.items
  const pixels = pixelsOf(piece.sha256, piece.frame)
  return pixels ? [{ kind: 'picture', pixels, bounds: piece.bounds }] : []
}

/** What lies under titles at a frame, px of the programme's picture; undefined: nothing does, or it is not there yet. */
export function footageUnder(programme: Programme, frame: number, stored: Stored): Item[] | undefined {
  const footage = footageAt(programme, frame)
  if (!footage) return undefined
  const items = itemsOf(footagePiece(programme, footage.clip, frame, stored), stored)
  return items.length > 0 ? [blackOf(programme), ...items] : undefined
}

/** The stored still, or the frame of a movie, that lies under titles at a frame; undefined: none does. */
export function storedUnder(programme: Programme, frame: number): StoredFrame | undefined {
  const footage = footageAt(programme, frame)
  const medium = footage && mediumOf(programme, footage.clip)
  if (medium?.kind === 'still') return { medium, frame: 0 }
  return medium?.kind === 'movie' ? { medium, frame: mediumFrame(programme, footage!.clip, frame) } : undefined
}
