import type { Change } from './edits.ts'
import { propertiesOf } from './properties.ts'
import type { Axis, Frame, Key, Motion, Part, Template } from './types.ts'
import { allParts } from './walk.ts'

/** The factor by which drawings grow from one frame to another: as much as fits both ways. */
function growth(from: Frame, to: Frame): number {
  return Math.min(to.width / from.width, to.height / from.height)
}

const short = (value: number) => Math.round(value * 1000) / 1000

/**
 * A template for a frame of another size or rate. Ties keep their meaning: what holds to the frame or a safe area still
 * does. With `scale`, every length in px grows with the frame and what stands by hand keeps its share of it. With another
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
    for (const part of allParts(template.parts)) changes.push(...grownPart(part, k, across, down, rate))
  return { kind: 'several', changes }
}

function grownPart(part: Part, k: number, across: number, down: number, rate: number): Change[] {
  const changes: Change[] = []
  for (const axis of ['x', 'y'] as const)
    changes.push({ kind: 'axis', part: part.id, axis, value: grownAxis(part[axis], k, axis === 'x' ? across : down) })
  if (part.room && part.room.kind !== 'free')
    changes.push({
      kind: 'room',
      part: part.id,
      room:
        part.room.kind === 'width'
          ? { kind: 'width', value: Math.max(1, short(part.room.value * k)) }
          : { ...part.room, gap: short(part.room.gap * k) },
    })
  if (k !== 1)
    for (const [key, property] of propertiesOf(part.kind)) {
      const value = (part.look as Record<string, unknown>)[key] ?? property.default
      const grown = grownValue(property.type, property.unit, value, k, property.max)
      if (grown !== undefined && JSON.stringify(grown) !== JSON.stringify(value))
        changes.push({ kind: 'look', part: part.id, key, value: grown })
    }
  changes.push({ kind: 'motion', part: part.id, motion: grownMotion(part.motion, k, rate) })
  return changes
}

function grownAxis(axis: Axis, k: number, along: number): Axis {
  return {
    ...axis,
    place: short(axis.place * along),
    ties: axis.ties.map((tie) => ({ ...tie, gap: short(tie.gap * k) })),
    size:
      axis.size.kind === 'fixed'
        ? { kind: 'fixed', value: short(axis.size.value * k) }
        : axis.size.kind === 'share'
          ? { ...axis.size, plus: short(axis.size.plus * k) }
          : axis.size,
    ...(axis.min === undefined ? {} : { min: short(axis.min * k) }),
    ...(axis.max === undefined ? {} : { max: short(axis.max * k) }),
  }
}

function grownValue(type: string, unit: string | undefined, value: unknown, k: number, max?: number): unknown {
  if (type === 'number' && unit === 'px') return Math.min(max ?? Number.POSITIVE_INFINITY, short((value as number) * k))
  if (type === 'shadows')
    return (value as { x: number; y: number; blur: number }[]).map((shadow) => ({
      ...shadow,
      x: short(shadow.x * k),
      y: short(shadow.y * k),
      blur: Math.min(500, short(shadow.blur * k)),
    }))
  if (type === 'runs')
    return (value as { size?: number }[]).map((run) => (run.size ? { ...run, size: short(run.size * k) } : run))
  return undefined
}

function grownMotion(motion: Motion, k: number, rate: number): Motion {
  const mapped = <T extends object>(tracks: T): T =>
    Object.fromEntries(
      Object.entries(tracks).map(([channel, track]) => {
        const isPx = channel === 'blur' || ('unit' in track && track.unit === 'px')
        return [
          channel,
          {
            ...track,
            ...('soft' in track ? { soft: short((track.soft as number) * k) } : {}),
            keys: (track.keys as Key[]).map((key) => ({
              ...key,
              at: Math.round(key.at * rate),
              value: isPx ? short(key.value * k) : key.value,
            })),
          },
        ]
      }),
    ) as T
  return {
    ...motion,
    tracks: mapped(motion.tracks),
    ...(motion.units ? { units: { ...motion.units, tracks: mapped(motion.units.tracks) } } : {}),
  }
}
