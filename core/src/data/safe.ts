import { cached } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { alike, boxOf, regionOf } from '../layout/index.ts'
import { channels, keyMoment, momentAt, timingOf, valueAt } from '../motion/index.ts'
import type { Layout, Scene } from '../scene/index.ts'
import { type AxisName, findPart, type Part, type ShiftTrack, type Template, type Track } from '../template/index.ts'

/** A value of a track at its least and most, and the frames of the title (as designed) at which it is there. */
interface Extreme {
  value: number
  frame: number
}

/** The two ends of what a track does over a title as designed, In to Out. */
function extremesOf(template: Template, motion: Part['motion'], track: Track, rest: number): [Extreme, Extreme] {
  const timing = timingOf(template)
  const ends: [Extreme, Extreme] = [
    { value: rest, frame: timing.in },
    { value: rest, frame: timing.in },
  ]
  for (let frame = 0; frame < timing.total; frame++) {
    const moment = keyMoment(template.spans, timing.hold, momentAt(timing, frame), motion.out)
    const value = valueAt(track, moment)
    if (value < ends[0].value) ends[0] = { value, frame }
    if (value > ends[1].value) ends[1] = { value, frame }
  }
  return ends
}

/** How far movement carries a part, as far as it does not depend on what fills it. */
interface Reach {
  /** By axis: the two ends of every shift, in its own unit. Shifts that lead out of the frame on purpose are not among them. */
  shifts: [x: ShiftReach[], y: ShiftReach[]]
  /** The most it is scaled to, about the part's anchor. */
  scale: Extreme
}
interface ShiftReach {
  unit: 'px' | 'own' | 'frame'
  ends: [Extreme, Extreme]
}

const reaches = new WeakMap<Template, Map<string, Reach | undefined>>()

/** What moves a part: itself, what it rides, the groups around it. */
function moversOf(template: Template, part: Part): Part[] {
  const movers = new Set<Part>()
  const add = (one: Part | undefined): void => {
    if (!one || movers.has(one)) return
    movers.add(one)
    if (one.motion.ride) add(findPart(template, one.motion.ride))
    add(groupOf(template.parts, one))
  }
  add(part)
  return [...movers]
}

function groupOf(parts: readonly Part[], part: Part): Part | undefined {
  for (const group of parts) {
    if (group.parts?.includes(part)) return group
    const inside = group.parts && groupOf(group.parts, part)
    if (inside) return inside
  }
  return undefined
}

function reachOf(template: Template, part: Part): Reach | undefined {
  const known = cached(reaches, template, () => new Map())
  if (known.has(part.id)) return known.get(part.id)
  const reach: Reach = { shifts: [[], []], scale: { value: 1, frame: 0 } }
  let moves = false
  for (const { motion } of moversOf(template, part)) {
    const { shiftX, shiftY, scale } = motion.tracks
    ;[shiftX, shiftY].forEach((track: ShiftTrack | undefined, axis) => {
      if (!track || track.keys.length === 0) return
      const unit = track.unit
      if (unit === 'off' || track.leaving?.unit === 'off') return
      reach.shifts[axis as 0 | 1].push({ unit, ends: extremesOf(template, motion, track, channels.shiftX.rest) })
      moves = true
    })
    if (scale && scale.keys.length > 0) {
      const [, most] = extremesOf(template, motion, scale, channels.scale.rest)
      if (most.value > reach.scale.value) {
        reach.scale = most
        moves = true
      }
    }
  }
  const result = moves ? reach : undefined
  known.set(part.id, result)
  return result
}

export interface Past {
  region: 'title' | 'action'
  /** px */
  by: number
  /** Of the title as designed; undefined: as it rests. */
  frame?: number
}

const sides = ['left', 'right', 'top', 'bottom'] as const

/** How far (px) a part stands outside a region on each side; less than 0: inside. */
function sidesPast(
  layout: Layout,
  i: number,
  region: Past['region'] | 'frame',
): Record<(typeof sides)[number], number> {
  const { frame } = layout.template
  const [left, width] = regionOf(frame, region, 'x')
  const [top, height] = regionOf(frame, region, 'y')
  const box = boxOf(layout.rest, i)
  return {
    left: left - box.x,
    right: box.x + box.width - left - width,
    top: top - box.y,
    bottom: box.y + box.height - top - height,
  }
}

/**
 * How far (px) a part stands outside a region, on a side on which it was drawn inside, or was not drawn as far out: an edge
 * that is drawn beyond a safe area is meant so, and so is one that ends with the frame.
 * @param drawn the filling that the designer drew
 */
export function pastDrawn(layout: Layout, drawn: Layout, i: number, region: Past['region']): number {
  const now = sidesPast(layout, i, region)
  const bleeds = sidesPast(layout, i, 'frame')
  const at = drawn.rest.order.index.get(layout.rest.order.parts[i]!.id)
  if (at === undefined || drawn.rest.gone[at]) return Math.max(...Object.values(now))
  const was = sidesPast(drawn, at, region)
  return Math.max(
    ...sides.map((side) =>
      now[side] > Math.max(0, was[side]) + alike && Math.abs(bleeds[side]) > alike
        ? now[side]
        : Number.NEGATIVE_INFINITY,
    ),
  )
}

const pastOf = (box: Box, left: number, width: number, top: number, height: number) =>
  Math.max(left - box.x, box.x + box.width - left - width, top - box.y, box.y + box.height - top - height)

/** How far (px) a part that runs the other way stands outside title-safe along an axis. */
export function pastAcross(layout: Layout, i: number, axis: AxisName): number {
  const [start, size] = regionOf(layout.template.frame, 'title', axis)
  const box = boxOf(layout.rest, i)
  const [from, length] = axis === 'x' ? [box.x, box.width] : [box.y, box.height]
  return Math.max(start - from, from + length - start - size)
}

/**
 * How far (px) what is seen of a part stands outside its region on its way in and out, and at the frame `also`: what a wipe
 * or another part hides is nowhere.
 */
export function seenPast(scene: Scene, layout: Layout, part: Part, region: Past['region'], also: number): Past {
  const { frame } = layout.template
  const [left, width] = regionOf(frame, region, 'x')
  const [top, height] = regionOf(frame, region, 'y')
  const timing = timingOf(layout.template)
  const most: Past = { region, by: Number.NEGATIVE_INFINITY }
  for (let at = 0; at < timing.total; at++) {
    if (at > timing.in && at < timing.total - timing.out && at !== also) continue
    const box = scene.posed(layout, timing, at).seenBox(part.id)
    const by = box ? pastOf(box, left, width, top, height) : 0
    if (by > most.by) Object.assign(most, { by, frame: at })
  }
  return most
}

/** How far (px) a part stands outside the region it belongs into as it rests, and how far its movement carries it. */
export function pastSafe(layout: Layout, i: number): { rest: Past; moving?: Past } {
  // As the filling's choices make it: its parts are those that rest here.
  const { template } = layout
  const part = layout.rest.order.parts[i]!
  const box = boxOf(layout.rest, i)
  const region = part.kind === 'text' ? 'title' : 'action'
  const [left, width] = regionOf(template.frame, region, 'x')
  const [top, height] = regionOf(template.frame, region, 'y')
  const rest: Past = { region, by: pastOf(box, left, width, top, height) }
  const reach = reachOf(template, part)
  if (!reach) return { rest }
  const grown = reach.scale.value
  const { anchor } = part.motion
  const scaled: Box = {
    x: box.x - box.width * anchor.x * (grown - 1),
    y: box.y - box.height * anchor.y * (grown - 1),
    width: box.width * grown,
    height: box.height * grown,
  }
  let moving: Past = { region, by: pastOf(scaled, left, width, top, height), frame: reach.scale.frame }
  reach.shifts.forEach((shifts, axis) => {
    const own = axis === 0 ? box.width : box.height
    const frame = axis === 0 ? template.frame.width : template.frame.height
    for (const side of [0, 1] as const) {
      let by = 0
      let at = 0
      for (const { unit, ends } of shifts) {
        by += ends[side].value * (unit === 'px' ? 1 : unit === 'own' ? own : frame)
        if (ends[side].value !== 0) at = ends[side].frame
      }
      const there = axis === 0 ? { ...scaled, x: scaled.x + by } : { ...scaled, y: scaled.y + by }
      const past = pastOf(there, left, width, top, height)
      if (past > moving.by) moving = { region, by: past, frame: at }
    }
  })
  return { rest, moving }
}
