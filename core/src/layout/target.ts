import type { AxisName, Edge, Frame, PartId, Target, Template, Tie } from '../template/index.ts'
import type { Rest } from './rest.ts'

/** px within which a drawing says that two things are the same. */
export const alike = 0.75

/** How far across a box an edge lies: 0 is its start, 1 its end. */
export const shareOf = (at: Edge | number): number =>
  at === 'start' ? 0 : at === 'end' ? 1 : at === 'middle' ? 0.5 : at

/** A region of the frame along one axis: start and size in px. */
export function regionOf(frame: Frame, region: 'frame' | 'action' | 'title', axis: AxisName): [number, number] {
  const length = axis === 'x' ? frame.width : frame.height
  const inset = region === 'frame' ? 0 : length * frame.safe[region]
  return [inset, length - 2 * inset]
}

export type Region = Extract<Target, { region: unknown }>['region']

/** What a part sees along one axis of what it can be tied to: starts and sizes in px, in the coordinates of the view. */
export interface TargetView {
  region(region: Region): readonly [start: number, size: number]
  part(id: PartId): readonly [start: number, size: number]
  isGone(id: PartId): boolean
}

/** A target along one axis: start and size in px, of the view; `gone`: all its parts are. */
export interface Extent {
  start: number
  size: number
  gone: boolean
}

/** Where a target is: a region, or what is round the parts that are not gone; all of them where none is left. */
export function extentOf(target: Target, view: TargetView): Extent {
  if ('region' in target) {
    const [start, size] = view.region(target.region)
    return { start, size, gone: false }
  }
  const { parts } = target
  // Nearly every target is a single part; its end less its start, as of several, so that bytes stay what they were.
  if (parts.length === 1) {
    const [start, size] = view.part(parts[0]!)
    return { start, size: start + size - start, gone: view.isGone(parts[0]!) }
  }
  const gone = parts.every((id) => view.isGone(id))
  let low = Number.POSITIVE_INFINITY
  let high = Number.NEGATIVE_INFINITY
  for (const id of parts) {
    if (!gone && view.isGone(id)) continue
    const [start, size] = view.part(id)
    low = Math.min(low, start)
    high = Math.max(high, start + size)
  }
  return { start: low, size: high - low, gone }
}

/** Where a tie looks, its gap left out; and the gap that counts there. px, of the view. */
export function lookedAt(tie: Tie, view: TargetView): { at: number; gap: number } {
  const { start, size, gone } = extentOf(tie.to, view)
  // What is gone counts as the point where it would have started, without the gap.
  return gone && tie.gone !== 'keep' ? { at: start, gap: 0 } : { at: start + size * shareOf(tie.at), gap: tie.gap }
}

/** Where a tie holds its edge; px, of the view. */
export function heldBy(tie: Tie, view: TargetView): number {
  const { at, gap } = lookedAt(tie, view)
  return at + gap
}

/** What a part sees of a drawing at rest; frame px. */
export function restView(template: Template, rest: Rest, id: PartId, axis: AxisName): TargetView {
  const a = axis === 'x' ? 0 : 1
  const { index, parent } = rest.order
  const boxOf = (i: number) => [rest.start[a][i]!, rest.size[a][i]!] as const
  const up = parent[index.get(id)!]!
  return {
    region: (region) =>
      region === 'group'
        ? up >= 0
          ? boxOf(up)
          : regionOf(template.frame, 'frame', axis)
        : regionOf(template.frame, region, axis),
    part: (other) => boxOf(index.get(other)!),
    isGone: (other) => rest.gone[index.get(other)!] === 1,
  }
}
