import { demand, Refusal } from '../refusal/index.ts'

/** The document version this code writes. */
export const currentSchema = 1

/**
 * Migrations by the version they start from: entry n turns a document of schema n into one of n + 1. Version 1 is the
 * first, so there are none yet; the numbering and the refusal of newer documents hold from the first day.
 */
const migrations: Record<number, (document: Record<string, unknown>) => Record<string, unknown>> = {}

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
