import type { Axis, AxisName, Change, Part } from '@hoja/core/template'

/** Moves an axis by px: its gaps when it is tied, its place when it stands free. */
function moved(axis: Axis, by: number): Axis {
  return axis.ties.length > 0
    ? { ...axis, ties: axis.ties.map((tie) => ({ ...tie, gap: tie.gap + by })) }
    : { ...axis, place: axis.place + by }
}

/** The change that moves a part by px in the frame, whatever holds it. */
export function moveBy(part: Part, dx: number, dy: number): Change {
  const changes: Change[] = []
  for (const [axis, by] of [
    ['x', dx],
    ['y', dy],
  ] as [AxisName, number][])
    if (by !== 0) changes.push({ kind: 'axis', part: part.id, axis, value: moved(part[axis], by) })
  return { kind: 'several', changes }
}
