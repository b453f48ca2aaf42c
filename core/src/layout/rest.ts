import type { Box } from '../geometry/index.ts'
import type { AxisName, TieOrder } from '../template/index.ts'

/** Something a tie could not have; the part rests where `solve` says all the same. */
export interface LayoutNote {
  part: string
  axis: AxisName
  kind: 'min-over-max' | 'inside-out'
}

/** Where every part rests. Boxes are upright, in frame px, after each part's own scale and rotation; by part index. */
export interface Rest {
  order: TieOrder
  start: [Float64Array, Float64Array]
  size: [Float64Array, Float64Array]
  /** Sizes before scale and rotation. */
  own: [Float64Array, Float64Array]
  /** How far each part was shifted from where its ties put it. */
  shift: [Float64Array, Float64Array]
  gone: Uint8Array
  notes: LayoutNote[]
}

/** A part's box at rest; frame px. */
export function boxOf(rest: Rest, index: number): Box {
  return {
    x: rest.start[0][index]!,
    y: rest.start[1][index]!,
    width: rest.size[0][index]!,
    height: rest.size[1][index]!,
  }
}
