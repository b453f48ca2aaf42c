import { cached } from '../cache/index.ts'
import { boxOf } from '../layout/index.ts'
import { fastestOf, hasWay } from '../motion/index.ts'
import type { Layout, Scene } from '../scene/index.ts'
import type { Finding } from './finding.ts'

/** How many times as fast as designed a part may move before somebody should look. */
const most = 3
/** px a second under which nothing is fast. */
const least = 400

const designed = new WeakMap<Scene, Map<string, number>>()

/** px a second that each part with keys moves at most in a filling, by its id. */
function speedsOf({ template, rest }: Layout): Map<string, number> {
  const speeds = new Map<string, number>()
  rest.order.parts.forEach((part, i) => {
    if (rest.gone[i] || !Object.keys(part.motion.tracks).some(hasWay)) return
    const found = fastestOf(part.motion, boxOf(rest, i), template)
    if (found) speeds.set(part.id, found.speed)
  })
  return speeds
}

/** Whether the part that moves fastest in a filling moves far faster than as designed, since its way is longer there. */
export function checkSpeed(scene: Scene, layout: Layout, row: number): Finding[] {
  const own = speedsOf(layout)
  if (own.size === 0) return []
  const asDrawn = cached(designed, scene, () => speedsOf(scene.layout({})))
  const fast = [...own].flatMap(([part, speed]) => {
    const before = asDrawn.get(part)
    return before !== undefined && speed > least && speed > most * before ? [{ part, speed, before }] : []
  })
  if (fast.length === 0) return []
  const { part, speed, before } = fast.reduce((one, other) => (other.speed > one.speed ? other : one))
  const name = layout.rest.order.parts[layout.rest.order.index.get(part)!]!.name
  return [
    {
      row,
      part,
      level: 'look',
      code: 'fast',
      message: `${name} moves at ${Math.round(speed)} px/s, ${(speed / before).toFixed(1)} times as fast as designed; give its key a speed instead of a time, or shorten the text.`,
    },
  ]
}
