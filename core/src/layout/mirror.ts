import {
  type Axis,
  type Change,
  drawnValue,
  type Edge,
  edit,
  everyShape,
  type Fill,
  inSameWords,
  inShape,
  type Motion,
  newField,
  type Outline,
  type Part,
  propertyOf,
  type Room,
  type Setting,
  type Shadow,
  setsSame,
  type Template,
  type Tie,
  type Track,
} from '../template/index.ts'
import type { Rest } from './rest.ts'

const otherEdge: Record<Edge, Edge> = { start: 'end', middle: 'middle', end: 'start' }
const mirroredAt = (at: Tie['at']): Tie['at'] => (typeof at === 'number' ? 1 - at : otherEdge[at])
/** Never -0, which no document has. */
const negative = (value: number): number => (value === 0 ? 0 : -value)

/** A tie across the frame, seen in a mirror. */
const mirroredTie = (tie: Tie): Tie => ({
  ...tie,
  edge: otherEdge[tie.edge],
  at: mirroredAt(tie.at),
  gap: negative(tie.gap),
})

/**
 * Where a part stands across, seen in a mirror that stands in the middle of the frame.
 * @param size px that it takes at rest
 * @param length px of the space that it stands in: of the frame, or 0 inside a group with a place of its own
 */
function mirroredAxis(part: Part, size: number, length: number): Axis {
  const axis = part.x
  if (axis.ties.length > 0) return { ...axis, ties: axis.ties.map(mirroredTie) }
  // A group without a place of its own is where its parts are.
  if (part.kind === 'group' && axis.size.kind === 'content')
    return axis.place === 0 ? axis : { ...axis, place: length - axis.place }
  // What is as long as its content grew to the right, and has to grow to the left.
  if (axis.size.kind !== 'fixed' && length > 0)
    return {
      ...axis,
      ties: [
        {
          edge: 'end',
          to: { region: 'frame' },
          at: 'end',
          gap: negative(axis.place),
          follow: 'settled',
          gone: 'collapse',
        },
      ],
    }
  return { ...axis, place: length - axis.place - size }
}

const mirroredRoom = (room: Room): Room =>
  room.kind === 'limit' ? { ...room, at: mirroredAt(room.at), gap: negative(room.gap) } : room

function mirroredFill(fill: Fill): Fill {
  if (fill && typeof fill === 'object' && fill.kind === 'radial' && fill.centre)
    return { ...fill, centre: { ...fill.centre, x: 1 - fill.centre.x } }
  return fill && typeof fill === 'object' && fill.kind === 'linear'
    ? { ...fill, angle: ((180 - fill.angle + 540) % 360) - 180 }
    : fill
}

/** Lines through points the other way round, so that a text that runs along one still runs as it is read. */
const mirroredOutline = ({ points, closed }: Outline): Outline => ({
  closed,
  points: points
    .map(({ x, in: before, out: behind, ...point }) => ({
      ...point,
      x: 1 - x,
      ...(behind ? { in: [negative(behind[0]), behind[1]] as [number, number] } : {}),
      ...(before ? { out: [negative(before[0]), before[1]] as [number, number] } : {}),
    }))
    .reverse(),
})

const swapped: Record<string, string> = {
  radiusTopLeft: 'radiusTopRight',
  radiusTopRight: 'radiusTopLeft',
  radiusBottomLeft: 'radiusBottomRight',
  radiusBottomRight: 'radiusBottomLeft',
  leanLeft: 'leanRight',
  leanRight: 'leanLeft',
}

/** A property of a style seen in a mirror: what it is called there, and its value. What is read is not turned round. */
function mirroredProperty(key: string, value: unknown): [string, unknown] {
  switch (key) {
    case 'shiftX':
    case 'rotation':
      return [key, negative(value as number)]
    case 'leanLeft':
    case 'leanRight':
      return [swapped[key]!, negative(value as number)]
    case 'align':
      return [key, otherEdge[value as Edge] ?? value]
    case 'fill':
      return [key, mirroredFill(value as Fill)]
    case 'shadows':
      return [key, (value as Shadow[]).map((shadow) => ({ ...shadow, x: negative(shadow.x) }))]
    case 'outlines':
      return [key, (value as Outline[]).map(mirroredOutline)]
    default:
      return [swapped[key] ?? key, value]
  }
}

const mirroredStyle = (style: object): Record<string, unknown> =>
  Object.fromEntries(Object.entries(style).map(([key, value]) => mirroredProperty(key, value)))

type AnyTrack = Track & { from?: string; slant?: number; axis?: string; leaving?: object }

/** A channel seen in a mirror: to the left what went to the right. */
function mirroredTrack(channel: string, track: AnyTrack): AnyTrack {
  const settings = (own: { from?: string; slant?: number; axis?: string }) => {
    if (channel === 'reveal')
      return {
        ...own,
        from: own.from === 'left' ? 'right' : own.from === 'right' ? 'left' : own.from!,
        slant: negative(own.slant ?? 0),
      }
    if ((channel === 'grow' && own.axis === 'x') || channel === 'trim')
      return { ...own, from: otherEdge[own.from as Edge] }
    return own
  }
  const { keys, leaving, ...own } = track
  const turns = channel === 'shiftX' || channel === 'turn'
  return {
    ...settings(own),
    keys: turns ? keys.map((key) => ({ ...key, value: negative(key.value) })) : keys,
    ...(leaving ? { leaving: settings(leaving) } : {}),
  }
}

const mirroredTracks = <T extends object>(tracks: T): T =>
  Object.fromEntries(
    Object.entries(tracks).map(([channel, track]) => [channel, mirroredTrack(channel, track as AnyTrack)]),
  ) as T

/** A movement seen in a mirror: what came from the left comes from the right. Letters come in the order they are read. */
export function mirroredMotion(motion: Motion): Motion {
  const { anchor, tracks, segments } = motion
  return {
    ...motion,
    anchor: { ...anchor, x: 1 - anchor.x },
    tracks: mirroredTracks(tracks),
    ...(segments ? { segments: { ...segments, tracks: mirroredTracks(segments.tracks) } } : {}),
  }
}

/** What a part is in the mirror. */
interface Mirrored {
  x: Axis
  style: Record<string, unknown>
  motion: Motion
  room?: Room
}

/** px of the space that a part stands in across: of the frame, or 0 inside a group with a place of its own. */
const spaceOf = ({ frame }: Template, { order }: Rest, i: number) => (order.space[i * 2]! < 0 ? frame.width : 0)

function mirroredParts(template: Template, rest: Rest): Map<string, Mirrored> {
  const { order, size } = rest
  return new Map(
    order.parts.map((part, i) => {
      const { style, motion, room } = part
      return [
        part.id,
        {
          x: mirroredAxis(part, size[0][i]!, spaceOf(template, rest, i)),
          style: mirroredStyle(style),
          motion: mirroredMotion(motion),
          ...(room ? { room: mirroredRoom(room) } : {}),
        },
      ]
    }),
  )
}

/** Where the parts of a template as drawn are, in the frame that it has. */
type RestOf = (template: Template) => Rest

/**
 * The whole design seen in a mirror: what stood at the left stands at the right, holds to what it held to, and enters and
 * leaves by the other side, in every shape of the frame. Words and pictures stay as they are read.
 * @throws Refusal
 */
export function mirrorAcross(template: Template, restOf: RestOf): Change {
  const changes: Change[] = []
  let now = template
  for (const { shape, template: shaped } of everyShape(template)) {
    const change = inShape(now, shape.id, shapeMirrored(shaped, restOf(shaped)))
    changes.push(change)
    now = edit(now, change)
  }
  return { kind: 'several', changes }
}

function shapeMirrored(template: Template, rest: Rest): Change {
  const mirrored = mirroredParts(template, rest)
  const visit = (part: Part): Part =>
    ({
      ...part,
      ...mirrored.get(part.id)!,
      ...(part.parts ? { parts: part.parts.map(visit) } : {}),
    }) as Part
  const setting = (set: Setting): Setting => {
    const { part, property, value } = set
    if (property === 'x') {
      const i = rest.order.index.get(part)!
      const placed = { ...rest.order.parts[i]!, x: value as Axis } as Part
      return { ...set, value: mirroredAxis(placed, rest.size[0][i]!, spaceOf(template, rest, i)) }
    }
    if (property === 'motion') return { ...set, value: mirroredMotion(value as Motion) }
    if (property === 'room') return { ...set, value: mirroredRoom(value as Room) }
    if (property === 'y') return set
    const [key, turned] = mirroredProperty(property, value)
    return { part, property: key, value: turned }
  }
  const fields = template.fields
    .filter(({ options }) => options?.some(({ sets }) => sets.length > 0))
    .map(
      (field): Change => ({
        kind: 'field',
        field: { ...field, options: field.options!.map((option) => ({ ...option, sets: option.sets.map(setting) })) },
      }),
    )
  const guides = template.guides.map((guide) =>
    guide.axis === 'x' ? { ...guide, at: template.frame.width - guide.at } : guide,
  )
  return {
    kind: 'several',
    changes: [
      ...template.parts.map((part): Change => ({ kind: 'replacePart', part: visit(part) })),
      ...fields,
      { kind: 'guides', guides },
    ],
  }
}

const standing = (part: Part, style: object, property: string): unknown =>
  (style as Record<string, unknown>)[property] ?? propertyOf(part.kind, property)?.default

/** All that differs in the mirror. */
function mirroredSettings(template: Template, rest: Rest): Setting[] {
  const mirrored = mirroredParts(template, rest)
  return rest.order.parts.flatMap((part) => {
    const { x, style, motion, room } = mirrored.get(part.id)!
    const asMirrored = (property: string, drawn: unknown, value: unknown): Setting[] =>
      inSameWords(drawn, value) ? [] : [{ part: part.id, property, value }]
    const keys = new Set([...Object.keys(part.style), ...Object.keys(style)])
    return [
      ...asMirrored('x', part.x, x),
      ...[...keys].flatMap((key) => asMirrored(key, standing(part, part.style, key), standing(part, style, key))),
      ...asMirrored('motion', part.motion, motion),
      ...asMirrored('room', part.room, room),
    ]
  })
}

/**
 * The mirrored design as an option: a choice *Side* that stands as drawn, and sets on its other side all that differs
 * there, in each shape of the frame what differs in that.
 */
export function sideChoice(template: Template, restOf: RestOf): Change {
  const shapes = everyShape(template).map(({ shape, template: shaped }) => ({
    id: shape.id,
    template: shaped,
    settings: mirroredSettings(shaped, restOf(shaped)),
  }))
  const differing = shapes.flatMap(({ settings }) => settings)
  const places = differing.filter((one, i) => differing.findIndex((other) => setsSame(one, other)) === i)
  // What differs in one shape alone is set as drawn in the others.
  const setsOf = ({ template: shaped, settings }: (typeof shapes)[number]): Setting[] =>
    places.map((place) => {
      const own = settings.find((setting) => setsSame(setting, place))
      if (own) return own
      return { ...place, value: drawnValue(shaped, place) ?? { kind: 'free' } }
    })
  const [first, ...others] = shapes
  const sets = setsOf(first!)
  const field = newField(template, 'Side', {
    type: 'choice',
    default: 'as-drawn',
    options: [
      { value: 'as-drawn', name: 'As drawn', sets: [] },
      { value: 'mirrored', name: 'Mirrored', sets },
    ],
  })
  const own = others.map((shape, n) => {
    // What a shape has of its own is said in any case: left as drawn it would stay as the shape draws it.
    const hasOwn = (setting: Setting) => template.shapes![n]!.sets.some((other) => setsSame(other, setting))
    return setsOf(shape).filter((setting, i) => hasOwn(setting) || !inSameWords(setting, sets[i]))
  })
  return {
    kind: 'several',
    changes: [
      { kind: 'field', field },
      ...(template.shapes
        ? [
            {
              kind: 'shapes' as const,
              shapes: template.shapes.map((shape, i) => ({
                ...shape,
                options: [
                  ...shape.options,
                  ...(own[i]!.length > 0 ? [{ field: field.id, option: 'mirrored', sets: own[i]! }] : []),
                ],
              })),
            },
          ]
        : []),
    ],
  }
}
