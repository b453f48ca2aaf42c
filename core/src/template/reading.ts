import { ValidationError } from 'yup'
import { Refusal } from '../refusal/index.ts'
import { checkMeaning, partWords } from './meaning.ts'
import { currentSchema, migrate } from './migrations.ts'
import { checkReferences, checkRings } from './references.ts'
import { document, refuseInherited } from './schema.ts'
import type { Part, Template } from './types.ts'

type Json = Record<string, unknown>

/**
 * Reads a template document: migrates, checks its shape, that everything it names is there, and that it means what it
 * says.
 * @throws Refusal with one sentence naming the place.
 */
export function readTemplate(value: unknown): Template {
  let migrated = migrate(value)
  const isOlder = (value as Json).schema !== currentSchema
  for (let error = shapeError(migrated); error; error = shapeError(migrated)) {
    const { unknown } = (error.params ?? {}) as { unknown?: string }
    // Older documents could hold anything; what nobody reads stays as somebody's own.
    if (!isOlder || unknown === undefined) throw new Refusal('template.shape', refusalOf(migrated, error))
    migrated = ownedAt(migrated, segmentsOf(error.path ?? ''), unknown) as Json
  }
  const template = migrated as unknown as Template
  checkReferences(template)
  checkRings(template)
  checkMeaning(template)
  return template
}

function shapeError(value: Json): ValidationError | undefined {
  try {
    refuseInherited(value)
    document.validateSync(value, { abortEarly: true })
    return undefined
  } catch (error) {
    if (error instanceof ValidationError) return error
    throw error
  }
}

const segmentsOf = (path: string): string[] => path.split(/[.[\]]+/).filter((segment) => segment !== '')

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

/** The place of an error, the innermost part or field told by its name and id, not by its number. */
function refusalOf(root: Json, { path = '', message }: ValidationError): string {
  const segments = segmentsOf(path)
  let at: unknown = root
  let words = ''
  let after: string[] = []
  segments.forEach((segment, i) => {
    at = (at as Json | undefined)?.[segment]
    const what = /^\d+$/.test(segment) ? named[segments[i - 1]!] : undefined
    const { name, id, key, value } = (at ?? {}) as Json
    const short = id ?? key ?? value
    if (!what || typeof short !== 'string') {
      after.push(segment)
      return
    }
    const own = `${what} ${typeof name === 'string' ? partWords({ name, id: short } as Part) : `"${short}"`}`
    // A part inside a group is told by itself; an option belongs to its field.
    words = what === 'option' ? `${words}, ${own}` : own
    after = []
  })
  const inner = after.filter((segment) => named[segment] === undefined || segment !== after.at(-1)).join('.')
  const place = [words, inner || after.join('.')].filter((word) => word !== '').join(': ') || 'The document'
  const rest = path === '' ? message.replace(/^this/, '') : message.replaceAll(path, '')
  return `template.json is not right: ${`${place} ${rest.trim()}.`.replace(/\?\.$/, '?')}`
}
