import { cached, LastFew } from '../cache/index.ts'
import { MeasuredPath, parsePathData, type Segment, segmentsOf } from '../path/index.ts'
import type { PlacedGlyph } from '../text/index.ts'
import type { PartStyle } from './resolve.ts'
import { ellipsePath, leaningBoxPath } from './shapes.ts'

/** A way that a text runs along, in the coordinates of the part whose outline it is (px, from 0, 0). */
export interface Way {
  path: MeasuredPath
  closed: boolean
  /** px of it that the text has: all of it where it is closed, else from where the text starts to its end. */
  room: number
}

type WayStyle = PartStyle<'box' | 'ellipse' | 'path'>

export const isWayStyle = (style: PartStyle): style is WayStyle =>
  style.kind === 'path' || style.kind === 'box' || style.kind === 'ellipse'

/** The outline of a box or an ellipse over an area of its own coordinates, as path data. */
export function outlineData(
  style: PartStyle<'box' | 'ellipse'>,
  b: { x: number; y: number; width: number; height: number },
): string {
  if (style.kind === 'ellipse') return ellipsePath(b.x, b.y, b.width, b.height)
  const radii = [style.radiusTopLeft, style.radiusTopRight, style.radiusBottomRight, style.radiusBottomLeft] as const
  return leaningBoxPath(b.x, b.y, b.width, b.height, radii, style.leanLeft, style.leanRight)
}

const measured = new WeakMap<PartStyle, LastFew<string, { path: MeasuredPath; closed: boolean }>>()

/**
 * The way that a part's outline gives a text.
 * @param width px of the part before its own scale and rotation, as `height`
 */
export function wayAlong(style: WayStyle, width: number, height: number, text: PartStyle<'text'>): Way {
  const known = cached(measured, style, () => new LastFew<string, { path: MeasuredPath; closed: boolean }>(4))
  const { path, closed } = cached(known, `${width},${height}`, () => {
    const area = { x: 0, y: 0, width, height }
    const segments: Segment[] =
      style.kind === 'path' ? segmentsOf(style.outlines, area) : parsePathData(outlineData(style, area))
    return { path: new MeasuredPath(segments), closed: segments.at(-1)?.type === 'Z' }
  })
  return { path, closed, room: closed ? path.length : path.length * (1 - text.alongStart) }
}

/**
 * Where a glyph stands on a way: the middle of its advance on the way, as in SVG 2, 11.8.3; the other side is that of
 * `side="right"` there. A closed way goes on at its beginning, an open one straight on.
 * @param middle px along the text's line
 * @param line px that the text's line is long
 * @param share where a shorter text stands in its room: 0 at its start, 1 at its end
 * @param travel share of the way that it has travelled along
 */
export function standingOn(
  { path, closed, room }: Way,
  text: PartStyle<'text'>,
  { middle, line, share, travel }: { middle: number; line: number; share: number; travel: number },
): { x: number; y: number; angle: number } {
  const { length } = path
  let distance = length * (text.alongStart + travel) + (room - line) * share + middle
  if (closed && length > 0) distance -= Math.floor(distance / length) * length
  const isBack = text.alongSide === 'other side'
  const { x, y, angle } = path.at(isBack ? length - distance : distance)
  if (text.alongTurns === 'stand upright') return { x, y, angle: 0 }
  return { x, y, angle: isBack ? angle + Math.PI : angle }
}

/** px along its line at which a glyph's advance has its middle. */
export const middleOf = ({ x, advance }: PlacedGlyph): number => x + advance / 2
