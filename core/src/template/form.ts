import type { Change } from './edits.ts'
import type { Comment, Field, Template } from './types.ts'

/** One line of the editor's form: a field, or a comment. */
export type FormLine = { kind: 'field'; field: Field } | { kind: 'comment'; comment: Comment }

export interface FormSection {
  /** Undefined: the fields that stand before any section. */
  id: string | undefined
  name: string
  lines: FormLine[]
}

/** The form as the editor sees it: fields without a section, then the sections in their order, comments between. */
export function formOf(template: Template): FormSection[] {
  const linesOf = (field: Field): FormLine[] => [
    ...template.comments
      .filter((comment) => comment.before === field.id)
      .map((comment): FormLine => ({ kind: 'comment', comment })),
    { kind: 'field', field },
  ]
  const known = new Set(template.sections.map((section) => section.id))
  const sections = [{ id: undefined as string | undefined, name: '' }, ...template.sections].map((section) => ({
    ...section,
    lines: template.fields
      .filter((field) => (field.section && known.has(field.section) ? field.section : undefined) === section.id)
      .flatMap(linesOf),
  }))
  const last = sections[sections.length - 1]!
  for (const comment of template.comments)
    if (comment.before === undefined) last.lines.push({ kind: 'comment', comment })
  return sections
}

/** A field in another section, or in none. */
export function inSection(field: Field, section: string | undefined): Field {
  const { section: _, ...rest } = field
  return section === undefined ? rest : { ...rest, section }
}

/** Puts a field before another one (or at the end of a section), in that one's section. */
export function placeField(
  template: Template,
  id: string,
  where: { before: string } | { section: string | undefined },
): Change {
  const field = template.fields.find((one) => one.id === id)!
  const before = 'before' in where ? template.fields.find((one) => one.id === where.before) : undefined
  const section = 'before' in where ? before?.section : where.section
  const others = template.fields.filter((one) => one.id !== id)
  const at = before
    ? others.findIndex((one) => one.id === before.id)
    : others.findLastIndex((one) => one.section === section) + 1 || others.length
  const ids = others.map((one) => one.id)
  ids.splice(at, 0, id)
  return {
    kind: 'several',
    changes: [
      { kind: 'field', field: inSection(field, section) },
      { kind: 'orderFields', ids },
    ],
  }
}

/** Moves a field one place up or down the form, from section to section; undefined where it can't go further. */
export function stepField(template: Template, id: string, by: -1 | 1): Change | undefined {
  const sections = formOf(template).map((section) => ({
    id: section.id,
    fields: section.lines.flatMap((line) => (line.kind === 'field' ? [line.field.id] : [])),
  }))
  const own = sections.findIndex((section) => section.fields.includes(id))
  const { fields } = sections[own]!
  const next = fields.indexOf(id) + by
  if (next >= 0 && next < fields.length) {
    const order = [...fields]
    order.splice(next - by, 1)
    order.splice(next, 0, id)
    const before = order[next + 1]
    return placeField(template, id, before ? { before } : { section: sections[own]!.id })
  }
  const other = sections[own + by]
  if (!other) return undefined
  const first = other.fields[0]
  return placeField(template, id, by > 0 && first ? { before: first } : { section: other.id })
}
