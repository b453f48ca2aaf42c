import { type Found, references, withReferences } from '../schema/index.ts'
import { described } from './description.ts'
import type { Axis, Field, Part, PartId, Shape, Target, Template } from './types.ts'

/** What a part names, without the parts that it holds. */
export const namedByPart = ({ parts: _, ...part }: Part): Found[] => references(described.part, part)

/** What a field names. */
export const namedByField = (field: Field): Found[] => references(described.field, field)

/** What another shape of the frame names. */
export const namedByShape = (shape: Shape): Found[] => references(described.shape, shape)

/** What an axis is held to, and what its size is a share of. */
export const targetsOf = ({ ties, size }: Axis): Target[] => [
  ...ties.map(({ to }) => to),
  ...(size.kind === 'share' ? [size.of] : []),
]

/** A template without some parts being named: ties, mattes, rides and what fields drive let them go. */
export function withoutNaming(template: Template, gone: ReadonlySet<PartId>): Template {
  return withReferences(described.document, template, (to, id) => (to === 'part' && gone.has(id) ? undefined : id))
}
