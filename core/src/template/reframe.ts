import { type Schema, withNumbers } from '../schema/index.ts'
import { described, valueSchema } from './description.ts'
import type { Change } from './edits.ts'
import { isInEffect, propertiesOf } from './properties.ts'
import type { Frame, Keyframe, Motion, Part, Template } from './types.ts'
import { updateOf } from './update.ts'
import { allParts } from './walk.ts'

/** The factor by which drawings grow from one frame to another: as much as fits both ways. */
function growth(from: Frame, to: Frame): number {
  return Math.min(to.width / from.width, to.height / from.height)
}

const short = (value: number) => Math.round(value * 1000) / 1000

/**
 * A template for a frame of another size or rate. Ties keep their meaning: what holds to the frame or a safe area still
 * does. Its other shapes keep their frames. With `scale`, every length in px grows with the frame and what stands by hand keeps its share of it. With another
 * rate, all times keep their seconds as near as whole frames can tell them.
 */
export function reframe(template: Template, frame: Frame, scale: boolean): Change {
  const k = scale ? growth(template.frame, frame) : 1
  const [across, down] = scale ? [frame.width / template.frame.width, frame.height / template.frame.height] : [1, 1]
  const rate = (frame.rate.num * template.frame.rate.den) / (frame.rate.den * template.frame.rate.num)
  const frames = (count: number, least = 0) => Math.max(least, Math.round(count * rate))
  const { spans } = template
  const changes: Change[] = [
    { kind: 'frame', frame },
    {
      kind: 'spans',
      spans: {
        in: frames(spans.in),
        out: frames(spans.out),
        hold: {
          ...spans.hold,
          frames: frames(spans.hold.frames, 1),
          ...(spans.hold.loop ? { loop: { from: frames(spans.hold.loop.from), to: frames(spans.hold.loop.to) } } : {}),
        },
      },
    },
    ...(k !== 1 || rate !== 1
      ? [{ kind: 'update' as const, update: grown(described.update, updateOf(template), { k, rate }) }]
      : []),
    { kind: 'poster', poster: { ...template.poster, frame: frames(template.poster.frame) } },
    {
      kind: 'guides',
      guides: template.guides.map((guide) => ({
        ...guide,
        at: short(guide.at * (guide.axis === 'x' ? across : down)),
      })),
    },
  ]
  if (k !== 1 || rate !== 1 || across !== 1 || down !== 1)
    for (const part of allParts(template.parts)) changes.push(...grownPart(part, { k, across, down, rate }))
  if (template.shapes && rate !== 1)
    changes.push({
      kind: 'shapes',
      shapes: template.shapes.map((shape) => grown(described.shape, shape, { k: 1, rate })),
    })
  return { kind: 'several', changes }
}

/** How lengths and times grow. */
interface Growth {
  /** Lengths in px. */
  k: number
  /** What stands by hand keeps its share of the frame. */
  across: number
  down: number
  /** Times in frames. */
  rate: number
}

/** Whatever a schema describes, its lengths and times grown. */
const grown = <T>(schema: Schema, value: T, { k, rate }: Pick<Growth, 'k' | 'rate'>): T =>
  withNumbers(schema, value, (n, { unit }) =>
    unit === 'px' || unit === 'px/s' ? short(n * k) : unit === 'frames' ? Math.round(n * rate) : n,
  )

function grownPart(part: Part, growth: Growth): Change[] {
  const changes: Change[] = []
  for (const axis of ['x', 'y'] as const) {
    const along = axis === 'x' ? growth.across : growth.down
    const value = { ...grown(described.axis, part[axis], growth), place: short(part[axis].place * along) }
    changes.push({ kind: 'axis', part: part.id, axis, value })
  }
  if (part.room) changes.push({ kind: 'room', part: part.id, room: grown(described.room, part.room, growth) })
  for (const [key, property] of propertiesOf(part.kind)) {
    if (!isInEffect(part, key)) continue
    const value = (part.style as Record<string, unknown>)[key] ?? property.default
    const next = grown(valueSchema(property), value, growth)
    if (next !== value) changes.push({ kind: 'style', part: part.id, key, value: next })
  }
  changes.push({ kind: 'motion', part: part.id, motion: grownMotion(part.motion, growth) })
  return changes
}

/** What a channel's values are lengths by hangs on the channel, and on the unit that it counts in. */
function grownMotion(motion: Motion, growth: Growth): Motion {
  const lengthened = <T extends object>(tracks: T): T =>
    Object.fromEntries(
      Object.entries(tracks).map(([channel, track]) => {
        const isPx = channel === 'blur' || ('unit' in track && track.unit === 'px')
        if (!isPx) return [channel, track]
        return [
          channel,
          { ...track, keys: track.keys.map((key: Keyframe) => ({ ...key, value: short(key.value * growth.k) })) },
        ]
      }),
    ) as T
  const { tracks, segments, ...rest } = grown(described.motion, motion, growth)
  return {
    ...rest,
    tracks: lengthened(tracks),
    ...(segments ? { segments: { ...segments, tracks: lengthened(segments.tracks) } } : {}),
  }
}
