import { demand, Refusal } from '../refusal/index.ts'
import { meant } from './meant.ts'

/** The document version this code writes. */
export const currentSchema = 4

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
  3: (document) => meant({ ...document, schema: 4 }),
}

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
