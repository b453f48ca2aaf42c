import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import {
  type Axis,
  type Field,
  type Keyframe,
  type Motion,
  newField,
  type Part,
  type Room,
  type ShiftTrack,
  type ShiftValue,
  setsItsPlace,
  type Target,
  type Template,
  type Tracks,
  tieOrder,
  type Values,
} from '../template/index.ts'
import { boxOf, type Rest } from './rest.ts'
import { regionOf, shareOf } from './target.ts'

/** The nine places of the frame that a whole title can stand at, as a choice says them; `as drawn` besides. */
export const places = [
  'top left',
  'top',
  'top right',
  'left',
  'middle',
  'right',
  'bottom left',
  'bottom',
  'bottom right',
]

const wholes = new WeakMap<Field[], Field[]>()

/** The fields that move or scale the whole title. */
export const wholeFields = ({ fields }: Pick<Template, 'fields'>): Field[] =>
  cached(wholes, fields, () => fields.filter(({ whole }) => whole))

const inParts = (to: Target) => 'parts' in to || to.region === 'group'

/**
 * An axis with everything that counts px from other parts made larger; margins to the frame and its safe areas stay.
 * @param about the place that stays
 */
function scaledAxis(axis: Axis, by: number, about: number): Axis {
  return {
    ...axis,
    ties: axis.ties.map((tie) => (inParts(tie.to) ? { ...tie, gap: tie.gap * by } : tie)),
    place: about + (axis.place - about) * by,
    ...(axis.min === undefined ? {} : { min: axis.min * by }),
    ...(axis.max === undefined ? {} : { max: axis.max * by }),
    size: axis.size.kind === 'share' ? { ...axis.size, plus: axis.size.plus * by } : axis.size,
  }
}

function scaledRoom(room: Room, by: number): Room {
  if (room.kind === 'width') return { ...room, value: room.value * by }
  return room.kind === 'limit' && inParts(room.to) ? { ...room, gap: room.gap * by } : room
}

/** Channels with shifts by px made longer or shorter; those that count sizes or frames stay. */
const scaledTracks = <T extends Tracks>(tracks: T, by: number): T =>
  Object.fromEntries(
    Object.entries(tracks).map(([channel, track]) => {
      if (channel !== 'shiftX' && channel !== 'shiftY') return [channel, track]
      const { unit, leaving, keys } = track as ShiftTrack
      const countsPx = ({ span }: Keyframe) => ((span === 'out' && leaving?.unit) || unit) === 'px'
      return [channel, { ...track, keys: keys.map((key) => (countsPx(key) ? { ...key, value: key.value * by } : key)) }]
    }),
  ) as T

const scaledMotion = ({ tracks, segments, ...motion }: Motion, by: number): Motion => ({
  ...motion,
  tracks: scaledTracks(tracks, by),
  ...(segments ? { segments: { ...segments, tracks: scaledTracks(segments.tracks, by) } } : {}),
})

/**
 * The whole drawing larger or smaller: its parts by their scale, what lies between them, and how far they come. What holds to
 * the frame or a safe area keeps its margin; free parts grow from the middle of the drawing.
 */
function scaled(template: Template, rest: Rest, by: number): Template {
  if (by === 1) return template
  const { index, space } = tieOrder(template)
  const around = boundsOf(rest)
  const middle = { x: around.x + around.width / 2, y: around.y + around.height / 2 }
  const axisOf = (part: Part, name: 'x' | 'y'): Axis => {
    // Inside a group with a place of its own places count from there; a group without one is where its parts are.
    const isCarried = space[index.get(part.id)! * 2 + (name === 'x' ? 0 : 1)]! >= 0
    const isPlaced = part.kind !== 'group' || setsItsPlace(part[name])
    return scaledAxis(part[name], by, isCarried || !isPlaced ? 0 : middle[name])
  }
  const visit = (part: Part): Part => {
    const { scale = 1, shiftX = 0, shiftY = 0, ...style } = part.style as Record<string, unknown> & Shifted
    return {
      ...part,
      x: axisOf(part, 'x'),
      y: axisOf(part, 'y'),
      motion: scaledMotion(part.motion, by),
      style: {
        ...style,
        scale: part.parts ? scale : scale * by,
        shiftX: shiftX * by,
        shiftY: shiftY * by,
      },
      ...(part.room ? { room: scaledRoom(part.room, by) } : {}),
      ...(part.parts ? { parts: part.parts.map(visit) } : {}),
    } as Part
  }
  return { ...template, parts: template.parts.map(visit) }
}

interface Shifted {
  scale?: number
  shiftX?: number
  shiftY?: number
}

/** px of the frame round everything that is there. */
function boundsOf(rest: Rest): Box {
  const boxes = rest.order.parts.flatMap((part, i) => (rest.gone[i] || part.kind === 'group' ? [] : [boxOf(rest, i)]))
  if (boxes.length === 0) return { x: 0, y: 0, width: 0, height: 0 }
  const [x, y] = [Math.min(...boxes.map((box) => box.x)), Math.min(...boxes.map((box) => box.y))]
  return {
    x,
    y,
    width: Math.max(...boxes.map((box) => box.x + box.width)) - x,
    height: Math.max(...boxes.map((box) => box.y + box.height)) - y,
  }
}

/**
 * The whole drawing moved by px: what holds to the frame is held further off.
 * @param withRoom whether the rooms of its texts go along; else they end where the safe areas do, and texts have less or more
 */
function shifted(template: Template, dx: number, dy: number, withRoom: boolean): Template {
  if (dx === 0 && dy === 0) return template
  const { index, space } = tieOrder(template)
  const axisOf = (part: Part, name: 'x' | 'y', by: number): Axis => {
    const axis = part[name]
    if (axis.ties.length > 0)
      return {
        ...axis,
        ties: axis.ties.map((tie) => (inParts(tie.to) ? tie : { ...tie, gap: tie.gap + by })),
      }
    // Inside a group with a place of its own places count from there; a group without one is where its parts are.
    const isCarried = space[index.get(part.id)! * 2 + (name === 'x' ? 0 : 1)]! >= 0
    const isPlaced = part.kind !== 'group' || setsItsPlace(axis)
    return isCarried || !isPlaced ? axis : { ...axis, place: axis.place + by }
  }
  const visit = (part: Part): Part =>
    ({
      ...part,
      x: axisOf(part, 'x', dx),
      y: axisOf(part, 'y', dy),
      ...(withRoom && part.room?.kind === 'limit' && !inParts(part.room.to)
        ? { room: { ...part.room, gap: part.room.gap + dx } }
        : {}),
      ...(part.parts ? { parts: part.parts.map(visit) } : {}),
    }) as Part
  return { ...template, parts: template.parts.map(visit) }
}

const variants = new WeakMap<Template, LastFew<string, Template>>()

/** What a filling gives the whole title. */
export interface WholeGiven {
  scale: number
  dx: number
  dy: number
  /** One of `places`; absent: as drawn. */
  place?: string
}

export function wholeGiven(template: Template, values: Values): WholeGiven | undefined {
  const fields = wholeFields(template)
  if (fields.length === 0) return undefined
  const given: WholeGiven = { scale: 1, dx: 0, dy: 0 }
  for (const field of fields) {
    const value = values[field.key] ?? field.default
    // What is no size at all is told of the filling, and scales nothing.
    if (field.type === 'number' && Number(value) > 0) given.scale *= Number(value) / 100
    if (field.type === 'shift') {
      const { x = 0, y = 0 } = value as ShiftValue
      given.dx += x
      given.dy += y
    }
    if (field.type === 'choice' && places.includes(String(value).replaceAll('-', ' ')))
      given.place = String(value).replaceAll('-', ' ')
  }
  return given
}

/**
 * The template with the whole title as a filling has it.
 * @param restOf lays a template out with a filling
 */
export function wholeVariant(
  template: Template,
  values: Values,
  restOf: (template: Template, values: Values) => Rest,
): Template {
  const given = wholeGiven(template, values)
  if (!given || (given.scale === 1 && given.dx === 0 && given.dy === 0 && !given.place)) return template
  const known = cached(variants, template, () => new LastFew<string, Template>(64))
  const large = cached(known, `scale ${given.scale}`, () => scaled(template, restOf(template, {}), given.scale))
  // What stands at a place of its own has the room there that it had where it was drawn.
  const to = given.place ? placedBy(large, restOf(large, values), given.place) : { x: 0, y: 0 }
  return cached(known, JSON.stringify([given, to]), () =>
    shifted(shifted(large, to.x, to.y, true), given.dx, given.dy, false),
  )
}

const shareAt = { first: 'start', middle: 'middle', last: 'end' } as const

/** How far everything that is there has to go to stand at a place of title-safe. */
function placedBy({ frame }: Template, rest: Rest, place: string): { x: number; y: number } {
  const box = boundsOf(rest)
  const across = place.includes('left') ? 'first' : place.includes('right') ? 'last' : 'middle'
  const down = place.startsWith('top') ? 'first' : place.startsWith('bottom') ? 'last' : 'middle'
  const by = (axis: 'x' | 'y', at: keyof typeof shareAt, start: number, size: number) => {
    const [from, length] = regionOf(frame, 'title', axis)
    const share = shareOf(shareAt[at])
    return Math.round(from + (length - size) * share - start)
  }
  return { x: by('x', across, box.x, box.width), y: by('y', down, box.y, box.height) }
}

/** Fields about the whole title, as a designer adds them: what each is called, and the field. */
export const wholeKinds: Record<'place' | 'shift' | 'scale', { words: string; field: (template: Template) => Field }> =
  {
    place: {
      words: 'its place, one of nine',
      field: (template) =>
        newField(template, 'Place', {
          type: 'choice',
          default: 'as-drawn',
          options: ['as drawn', ...places].map((name) => ({ value: name.replaceAll(' ', '-'), name, sets: [] })),
          whole: true,
        }),
    },
    shift: {
      words: 'a shift by px',
      field: (template) =>
        newField(template, 'Shift', {
          type: 'shift',
          default: { x: 0, y: 0 },
          reach: { x: [-400, 400], y: [-400, 400] },
          whole: true,
        }),
    },
    scale: {
      words: 'its size, in per cent',
      field: (template) =>
        newField(template, 'Size', {
          type: 'number',
          default: 100,
          min: 25,
          max: 200,
          format: { decimals: 0, mark: '.', group: '', before: '', after: ' %', plus: false },
          whole: true,
        }),
    },
  }
