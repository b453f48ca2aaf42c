import type { Box } from '@hoja/core/geometry'
import { outlinesOf, type Segment, tightAreaOf } from '@hoja/core/path'
import {
  allParts,
  fixedAxis,
  freeId,
  fullStyle,
  kindNames,
  newPart,
  type Outline,
  type Part,
  type PartKind,
  type Template,
} from '@hoja/core/template'

/** A new part with a free id and name, in the template's own colours. */
export function freshPart(template: Template, kind: PartKind, word = kindNames[kind]): Part {
  const id = freeId(
    allParts(template.parts).map((part) => part.id),
    word,
  )
  const name = `${word[0]!.toUpperCase()}${word.slice(1)} ${id.slice(word.length)}`
  const part = newPart(kind, id, name)
  const [first, second] = template.palette
  if (kind === 'text') {
    const [font] = template.fonts
    const own = { ...(font ? { font: font.id } : {}), ...(second ? { colour: `palette:${second.id}` } : {}) }
    return { ...part, style: { ...part.style, ...own } } as Part
  }
  if ((kind === 'box' || kind === 'ellipse' || kind === 'path') && first)
    return { ...part, style: { ...part.style, fill: `palette:${first.id}` } } as Part
  if (kind === 'curve' && second) return { ...part, style: { ...part.style, stroke: `palette:${second.id}` } } as Part
  return part
}

/** A part drawn over a box (frame px); one too small to be meant stays at its usual size. */
export function drawnPart(template: Template, kind: PartKind, area: Box): Part {
  const part = freshPart(template, kind)
  const [x, y] = [Math.round(area.x), Math.round(area.y)]
  const meant = area.width >= 4 && area.height >= 4
  return {
    ...part,
    x: meant ? fixedAxis(x, Math.round(area.width)) : { ...part.x, place: x },
    y: meant ? fixedAxis(y, Math.round(area.height)) : { ...part.y, place: y },
  } as Part
}

/** px of the frame from which on a drag gives a text its room. */
const leastRoom = 24

/**
 * A text in which nothing is written yet, its first line where it was pressed: a click gives it its place, a drag the
 * room in which it wraps.
 */
export function drawnText(template: Template, area: Box): Part {
  const part = freshPart(template, 'text')
  const isRoom = area.width >= leastRoom
  const { size } = fullStyle('text', {})
  // A press is in the middle of the line; a drag draws the upper edge.
  const y = Math.round(isRoom ? area.y : area.y - size * 0.6)
  return {
    ...part,
    x: { ...part.x, place: Math.round(area.x) },
    y: { ...part.y, place: y },
    style: { ...part.style, content: [{ text: '' }], ...(isRoom ? { fit: [{ step: 'wrap', to: 3 }] } : {}) },
    ...(isRoom ? { room: { kind: 'width', value: Math.round(area.width) } } : {}),
  } as Part
}

/** A line from one point of the frame to another; nearly level or upright ones become so. */
export function drawnLine(template: Template, x0: number, y0: number, x1: number, y1: number): Part {
  const [dx, dy] = [Math.abs(x1 - x0), Math.abs(y1 - y0)]
  const long = Math.max(dx, dy) < 4 ? 320 : dx
  const level = dy < Math.max(4, dx / 12)
  const upright = !level && dx < Math.max(4, dy / 12)
  const stroke = template.palette[1] ?? template.palette[0]
  const part = freshPart(template, 'path', 'line')
  const [width, height] = [upright ? 4 : Math.round(long), level ? 4 : Math.round(dy)]
  const points = level
    ? [
        { x: 0, y: 0.5 },
        { x: 1, y: 0.5 },
      ]
    : upright
      ? [
          { x: 0.5, y: 0 },
          { x: 0.5, y: 1 },
        ]
      : [
          { x: 0, y: x1 > x0 === y1 > y0 ? 0 : 1 },
          { x: 1, y: x1 > x0 === y1 > y0 ? 1 : 0 },
        ]
  return {
    ...part,
    x: fixedAxis(Math.round(upright ? x0 - 2 : Math.min(x0, x1)), width),
    y: fixedAxis(Math.round(level ? y0 - 2 : Math.min(y0, y1)), height),
    style: {
      outlines: [{ points, closed: false }],
      fill: null,
      stroke: stroke ? `palette:${stroke.id}` : '#ffffff',
      strokeWidth: 4,
    },
  } as Part
}

/** A point set with the pen: its place and, when it was dragged, the handle it pulls after it (frame px). */
export interface PenPoint {
  x: number
  y: number
  dx: number
  dy: number
}

/** A free path through pen points. */
export function drawnPath(template: Template, points: readonly PenPoint[], closed: boolean): Part {
  const segments: Segment[] = []
  points.forEach((point, i) => {
    const before = points[i - 1]
    if (!before) segments.push({ type: 'M', x: point.x, y: point.y })
    else segments.push(joined(before, point))
  })
  if (closed) segments.push(joined(points[points.length - 1]!, points[0]!), { type: 'Z' })
  const area = tightAreaOf(segments)
  const part = freshPart(template, 'path')
  const outlines: Outline[] = outlinesOf(segments, area)
  const stroke = template.palette[1] ?? template.palette[0]
  const open = closed ? {} : { fill: null, stroke: stroke ? `palette:${stroke.id}` : '#ffffff', strokeWidth: 4 }
  return {
    ...part,
    x: fixedAxis(area.x, area.width),
    y: fixedAxis(area.y, area.height),
    style: { ...part.style, ...open, outlines },
  } as Part
}

function joined(a: PenPoint, b: PenPoint): Segment {
  const straight = a.dx === 0 && a.dy === 0 && b.dx === 0 && b.dy === 0
  return straight
    ? { type: 'L', x: b.x, y: b.y }
    : { type: 'C', x1: a.x + a.dx, y1: a.y + a.dy, x2: b.x - b.dx, y2: b.y - b.dy, x: b.x, y: b.y }
}
