import { isTurned, type Part, type TieOrder } from '../template/index.ts'

/**
 * Which parts are gone: hidden by a switch, empty, inside a group that is gone, a group with nothing left, or tied with
 * the rule `hide` to nothing but gone parts. The least set that satisfies these rules, so it does not depend on order.
 */
export function goneParts(order: TieOrder, isHidden: (part: Part, index: number) => boolean): Uint8Array {
  const { parts, parent, index } = order
  const gone = new Uint8Array(parts.length)
  parts.forEach((part, i) => {
    if (isHidden(part, i) || (parent[i]! >= 0 && gone[parent[i]!])) gone[i] = 1
  })
  const living = new Int32Array(parts.length)
  const settle = (): boolean => {
    let changed = false
    living.fill(0)
    for (let i = parts.length - 1; i >= 0; i--) if (!gone[i] && parent[i]! >= 0) living[parent[i]!]!++
    // In solving order a target comes before what is tied to it, so one round nearly always settles all.
    for (const node of order.order) {
      const i = node >> 1
      const part = parts[i]!
      if (gone[i] || (node & 1 && isTurned(part))) continue
      if ((parent[i]! >= 0 && gone[parent[i]!]) || (part.kind === 'group' && living[i] === 0) || hides(part)) {
        gone[i] = 1
        changed = true
      }
    }
    return changed
  }
  const hides = (part: Part) =>
    [part.x, part.y].some((axis) =>
      axis.ties.some(
        (tie) =>
          tie.gone === 'hide' && 'parts' in tie.to && tie.to.parts.every((id) => gone[index.get(id) ?? -1] !== 0),
      ),
    )
  while (settle());
  return gone
}
