import { boxOf, type Rest } from '../layout/index.ts'
import type { Pose } from '../motion/index.ts'
import { about, identity, type Matrix, scaling, times, translation, turning } from '../paint/index.ts'

/** The map of a pose about an anchor. */
export function moved(p: Pose, x: number, y: number): Matrix {
  const still = p.scale === 1 && p.turn === 0
  if (still) return p.dx === 0 && p.dy === 0 ? identity : translation(p.dx, p.dy)
  return times(translation(p.dx, p.dy), about(x, y, times(turning(p.turn), scaling(p.scale))))
}

/** From a part's own coordinates to where it rests in the frame, with its own scale and rotation. */
export function placement(rest: Rest, i: number, scale: number, rotation: number): Matrix {
  const box = boxOf(rest, i)
  const [width, height] = [rest.own[0][i]!, rest.own[1][i]!]
  return rotation === 0
    ? times(translation(box.x, box.y), scaling(scale))
    : times(
        translation(box.x + box.width / 2, box.y + box.height / 2),
        times(turning(rotation), times(scaling(scale), translation(-width / 2, -height / 2))),
      )
}
