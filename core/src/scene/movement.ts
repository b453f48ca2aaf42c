import { boxOf, type Rest } from '../layout/index.ts'
import type { Pose } from '../motion/index.ts'
import { aboutPoint, identity, type Matrix, multiply, rotationMatrix, scaling, translation } from '../paint/index.ts'

/** The map of a pose about an anchor. */
export function moved(p: Pose, x: number, y: number): Matrix {
  const still = p.scale === 1 && p.turn === 0
  if (still) return p.dx === 0 && p.dy === 0 ? identity : translation(p.dx, p.dy)
  return multiply(translation(p.dx, p.dy), aboutPoint(x, y, multiply(rotationMatrix(p.turn), scaling(p.scale))))
}

/** From a part's own coordinates to where it rests in the frame, with its own scale and rotation. */
export function placement(rest: Rest, i: number, scale: number, rotation: number): Matrix {
  const box = boxOf(rest, i)
  const [width, height] = [rest.own[0][i]!, rest.own[1][i]!]
  return rotation === 0
    ? multiply(translation(box.x, box.y), scaling(scale))
    : multiply(
        translation(box.x + box.width / 2, box.y + box.height / 2),
        multiply(rotationMatrix(rotation), multiply(scaling(scale), translation(-width / 2, -height / 2))),
      )
}
