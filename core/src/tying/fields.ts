import type { Rest } from '../layout/index.ts'
import { expose, freeKey, type Part, type PartId, runsOf, type Template } from '../template/index.ts'
import { drawnParts } from './drawing.ts'
import type { Proposal } from './proposal.ts'

/** A word that names what will stand in its place, as people write it into a drawing: Name, Role. */
const placeholder = /^\p{Lu}[\p{L}\p{M}]{2,15}$/u

/**
 * Texts with words of their own, offered as fields: named by what they say, where that is a name for it, or by where they
 * stand among the others.
 */
export function fieldsAsDrawn(template: Template, rest: Rest, ids?: readonly PartId[]): Proposal[] {
  const texts = drawnParts(template, rest)
    .filter(({ part }) => isPlain(part))
    .sort((a, b) => a.y.start - b.y.start || a.x.start - b.x.start)
  let before = template
  return texts.flatMap(({ part }, i): Proposal[] => {
    if (part.locked || (ids && !ids.includes(part.id))) return []
    const { change, field } = expose(before, part.id, 'content')
    const name = freeName(before, nameOf(part, i, texts.length))
    const named = { ...field, name, key: freeKey(before, name) }
    // Those behind it are free to have other names.
    before = { ...before, fields: [...before.fields, named] }
    const renamed =
      change.kind === 'several'
        ? { ...change, changes: change.changes.map((one) => (one.kind === 'field' ? { ...one, field: named } : one)) }
        : change
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

function freeName(template: Pick<Template, 'fields'>, name: string): string {
  const taken = new Set(template.fields.map((field) => field.name))
  if (!taken.has(name)) return name
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`
}
