import type { Pose } from '../motion/index.ts'
import { about, identity, type Matrix, scaling, times, translation, turning } from '../paint/index.ts'

/** The map of a pose about an anchor. */
export function moved(p: Pose, x: number, y: number): Matrix {
  const still = p.scale === 1 && p.turn === 0
  if (still) return p.dx === 0 && p.dy === 0 ? identity : translation(p.dx, p.dy)
  return times(translation(p.dx, p.dy), about(x, y, times(turning(p.turn), scaling(p.scale))))
}
