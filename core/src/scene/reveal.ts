import type { Box } from '../geometry/index.ts'
import type { SoftEdge } from '../paint/index.ts'
import type { RevealTrack } from '../template/index.ts'
import { polygonPath } from './shapes.ts'

/**
 * The uncovered side of a wipe over `area` at a share of 0..1: a clip for a hard edge, a fading edge for a soft one. The
 * edge travels from just before the area to just past it, whatever its lean or softness.
 */
export function revealOf(track: RevealTrack, share: number, area: Box): { clip: string } | { soft: SoftEdge } {
  const upright = track.from === 'left' || track.from === 'right'
  const along = upright ? area.width : area.height
  const across = upright ? area.height : area.width
  const start = upright ? area.x : area.y
  const side = upright ? area.y : area.x
  const lean = Math.tan((track.slant * Math.PI) / 180) * across
  const reverse = track.from === 'right' || track.from === 'bottom'
  // Where the edge crosses the middle of the area.
  const travel = along + Math.abs(lean) + track.soft
  const begin = reverse
    ? start + along + Math.abs(lean) / 2 + track.soft / 2
    : start - Math.abs(lean) / 2 - track.soft / 2
  const middle = begin + (reverse ? -travel : travel) * share
  const point = (u: number, v: number): [number, number] => (upright ? [u, v] : [v, u])
  if (track.soft > 0) {
    const angle = (track.slant * Math.PI) / 180
    const half = (track.soft / 2) * (reverse ? -1 : 1)
    const [c, s] = [Math.cos(angle), Math.sin(angle)]
    const centre = side + across / 2
    const [x0, y0] = point(middle - half * c, centre - half * s)
    const [x1, y1] = point(middle + half * c, centre + half * s)
    return { soft: { x0, y0, x1, y1 } }
  }
  const far = reverse ? start + along + Math.abs(lean) + 1 : start - Math.abs(lean) - 1
  return {
    clip: polygonPath([
      point(far, side),
      point(middle + lean / 2, side),
      point(middle - lean / 2, side + across),
      point(far, side + across),
    ]),
  }
}
