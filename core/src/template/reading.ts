import { Refusal } from '../refusal/index.ts'
import { type Fault, faultIn } from '../schema/index.ts'
import { document } from './description.ts'
import { checkMeaning, partWords } from './meaning.ts'
import { currentSchema, migrate } from './migrations.ts'
import { checkReferences, checkRings } from './references.ts'
import type { Template } from './types.ts'

type Json = Record<string, unknown>

/**
 * Reads a template document: migrates, checks its shape, that everything it names is there, and that it means what it
 * says.
 * @throws Refusal with one sentence naming the place.
 */
export function readTemplate(value: unknown): Template {
  let migrated = migrate(value)
  const isOlder = (value as Json).schema !== currentSchema
  for (let fault = faultIn(document, migrated); fault; fault = faultIn(document, migrated)) {
    // Older documents could hold anything; what nobody reads stays as somebody's own.
    if (!isOlder || fault.unknown === undefined) throw new Refusal('template.shape', refusalOf(migrated, fault))
    migrated = ownedAt(migrated, fault.path.map(String), fault.unknown) as Json
  }
  const template = migrated as unknown as Template
  checkReferences(template)
  checkRings(template)
  checkMeaning(template)
  return template
}

/** A document with one key, at a place, kept as somebody's own. */
function ownedAt(value: unknown, [head, ...rest]: string[], key: string): unknown {
  if (head === undefined)
    return Object.fromEntries(Object.entries(value as Json).map(([k, v]) => [k === key ? `x-${k}` : k, v]))
  if (Array.isArray(value)) return value.map((one, i) => (String(i) === head ? ownedAt(one, rest, key) : one))
  return { ...(value as Json), [head]: ownedAt((value as Json)[head], rest, key) }
}

/** What the lists of a document hold, by the word people use for one of them. */
const named: Record<string, string> = {
  parts: 'Part',
  fields: 'Field',
  proofs: 'Proof',
  palette: 'Palette entry',
  fonts: 'Font',
  media: 'Picture',
  sounds: 'Sound',
  sections: 'Section',
  options: 'option',
}

/** The place of a fault, the innermost part or field told by its name and id, not by its number. */
export function refusalOf(root: unknown, { path, says }: Fault, start = 'template.json is not right: '): string {
  let at: unknown = root
  let words = ''
  let after: string[] = []
  path.forEach((key, i) => {
    at = (at as Json | undefined)?.[key]
    const what = typeof key === 'number' ? named[path[i - 1]!] : undefined
    const { name, id, key: column, value } = (at ?? {}) as Json
    const short = id ?? column ?? value
    if (!what || typeof short !== 'string') {
      after.push(String(key))
      return
    }
    const own = `${what} ${typeof name === 'string' ? partWords({ name, id: short }) : `"${short}"`}`
    // A part inside a group is told by itself; an option belongs to its field.
    words = what === 'option' ? `${words}, ${own}` : own
    after = []
  })
  const inner = after.filter((segment) => named[segment] === undefined || segment !== after.at(-1)).join('.')
  const place = [words, inner || after.join('.')].filter((word) => word !== '').join(': ') || 'The document'
  return `${start}${`${place} ${says}.`.replace(/\?\.$/, '?')}`
}
