import { demand, Refusal } from '../refusal/index.ts'
import { meant } from './meant.ts'

/** The document version this code writes. */
export const currentSchema = 5

type Document = Record<string, unknown>

/** Migrations by the version they start from: entry n turns a document of schema n into one of n + 1. */
const migrations: Record<number, (document: Document) => Document> = {
  // A part had one shadow or none; now it has a list. Templates have guides.
  1: (document) => {
    const parts = (list: unknown): unknown =>
      Array.isArray(list)
        ? list.map((part: Document) => {
            const { shadow, ...look } = (part?.look ?? {}) as Document
            return {
              ...part,
              look: shadow ? { ...look, shadows: [shadow] } : look,
              ...(part?.parts ? { parts: parts(part.parts) } : {}),
            }
          })
        : list
    return { ...document, schema: 2, guides: [], parts: parts(document.parts) }
  },
  // An option of a choice set one property of its name; now it sets several. Colours could be any; now that is said.
  2: (document) => {
    const fields = (Array.isArray(document.fields) ? document.fields : []).map((field: Document) => {
      if (field?.type === 'colour') return { ...field, free: true }
      if (field?.type !== 'choice') return field
      const targets = Array.isArray(field.targets) ? (field.targets as Document[]) : []
      const options = (Array.isArray(field.options) ? field.options : []).map((value: unknown) => ({
        value,
        name: value,
        sets: targets.map((target) => ({ ...target, value })),
      }))
      return { ...field, targets: [], options }
    })
    return { ...document, schema: 3, tags: [], fields, comments: [], sounds: [] }
  },
  // What was taken without a word and drawn somehow is refused now; here it becomes what was drawn.
  // `meant` reads by today's description, so the names of schema 5 come first; given twice they change nothing.
  3: (document) => meant(renamed({ ...document, schema: 4 })),
  // `look` was also a weight of checks, and `units` also what numbers count in.
  4: (document) => renamed({ ...document, schema: 5 }),
}

/** A document with the names of schema 5: a part's `look` is its `style`, its motion's `units` are `segments`. */
function renamed(document: Document): Document {
  return { ...document, ...(Array.isArray(document.parts) ? { parts: document.parts.map(renamedPart) } : {}) }
}

function renamedPart(part: unknown): unknown {
  if (!isObject(part)) return part
  const { parts, ...own } = withName(part, 'look', 'style')
  return {
    ...own,
    ...(isObject(own.motion) ? { motion: withName(own.motion, 'units', 'segments') } : {}),
    ...(parts === undefined ? {} : { parts: Array.isArray(parts) ? parts.map(renamedPart) : parts }),
  }
}

/** An object with one key called otherwise, in its place among the others. */
const withName = (object: Document, from: string, to: string): Document =>
  Object.fromEntries(Object.entries(object).map(([key, value]) => [key === from ? to : key, value]))

const isObject = (value: unknown): value is Document =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Brings a parsed template document to the current schema. @throws Refusal for a document that is none, or a newer one. */
export function migrate(document: unknown): Record<string, unknown> {
  demand(
    typeof document === 'object' && document !== null && !Array.isArray(document),
    'template.document',
    'template.json does not hold a template; export it again from Hoja.',
  )
  let doc = document as Record<string, unknown>
  const schema = doc.schema
  demand(
    typeof schema === 'number' && Number.isInteger(schema) && schema >= 1,
    'template.schema',
    'template.json has no schema number; export it again from Hoja.',
  )
  if (schema > currentSchema)
    throw new Refusal(
      'template.newer',
      `This template was written by a newer Hoja (schema ${schema}, this one reads up to ${currentSchema}); update Hoja to open it.`,
    )
  for (let from = schema; from < currentSchema; from++) doc = migrations[from]!(doc)
  return doc
}
