import type { Rest } from '../layout/index.ts'
import {
  type Change,
  expose,
  type Field,
  freeId,
  freeKey,
  kindNames,
  type Part,
  type PartId,
  runsOf,
  type Template,
} from '../template/index.ts'
import { drawingOf } from './drawing.ts'
import type { Proposal } from './proposal.ts'

/** A word that names what will stand in its place, as people write it into a drawing: Name, Role. */
const placeholder = /^\p{Lu}[\p{L}\p{M}]{2,15}$/u

/**
 * Texts with words of their own, offered as fields: named by what they say, where that is a name for it, or by where they
 * stand among the others.
 */
export function fieldsAsDrawn(template: Template, rest: Rest, ids?: readonly PartId[]): Proposal[] {
  const texts = drawingOf(rest)
    .filter(({ part }) => isPlain(part))
    .sort((a, b) => a.y.start - b.y.start || a.x.start - b.x.start)
  // Each is named beside those before it, so that any of them can be taken.
  const taken = template.fields.map(({ id, key, name }) => ({ id, key, name }))
  return texts.flatMap(({ part }, i): Proposal[] => {
    if (part.locked || (ids && !ids.includes(part.id))) return []
    const { field } = expose(template, part.id, 'content')
    const name = freeName(taken, nameOf(part, i, texts.length))
    const id = freeId(
      taken.map((one) => one.id),
      'f',
    )
    const named = { ...field, id, name, key: freeKey({ fields: taken as Field[] }, name) }
    taken.push(named)
    const { text: _, ...style } = runsOf(part)[0]!
    const renamed: Change = {
      kind: 'several',
      changes: [
        { kind: 'field', field: named },
        { kind: 'style', part: part.id, key: 'content', value: [{ ...style, field: id }] },
        ...(isNumbered(part) ? [{ kind: 'renamePart', part: part.id, name } as const] : []),
      ],
    }
    return [
      {
        id: `field ${part.id}`,
        about: 'field',
        part: part.id,
        options: [{ sentence: `${part.name} is a field for editors: ${name}`, change: renamed, targets: [] }],
      },
    ]
  })
}

/** Whether a part still has the name that it was drawn with: Text 1. */
const isNumbered = ({ kind, name }: Part) => new RegExp(`^${kindNames[kind]} \\d+$`, 'i').test(name)

function isPlain(part: Part): boolean {
  const runs = runsOf(part)
  return part.kind === 'text' && runs.length === 1 && !runs[0]!.field && (runs[0]!.text ?? '').trim() !== ''
}

function nameOf(part: Part, i: number, count: number): string {
  const words = (runsOf(part)[0]!.text ?? '').trim()
  if (placeholder.test(words)) return words
  if (count === 1) return 'Text'
  if (count === 2) return i === 0 ? 'Upper line' : 'Lower line'
  return `Line ${i + 1}`
}

function freeName(fields: readonly { name: string }[], name: string): string {
  const taken = new Set(fields.map((field) => field.name))
  if (!taken.has(name)) return name
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`
}
