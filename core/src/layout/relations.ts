import { allParts, type Part, type PartId, type Target, type Template } from '../template/index.ts'

/** The parts whose place or size decides where a part rests: its ties, shares and room. */
export function dependsOn(part: Part): PartId[] {
  const targets: Target[] = [part.x, part.y].flatMap((axis) => [
    ...axis.ties.map((tie) => tie.to),
    ...(axis.size.kind === 'share' ? [axis.size.of] : []),
  ])
  if (part.room?.kind === 'limit') targets.push(part.room.to)
  return [...new Set(targets.flatMap((target) => ('parts' in target ? target.parts : [])))]
}

/** The parts that are tied to a part. */
export function dependents(template: Template, id: PartId): PartId[] {
  return allParts(template.parts)
    .filter((part) => dependsOn(part).includes(id))
    .map((part) => part.id)
}
