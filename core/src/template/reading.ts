import { Refusal } from '../refusal/index.ts'
import { migrate } from './migrations.ts'
import { checkReferences, checkRings } from './references.ts'
import { document } from './schema.ts'
import type { Template } from './types.ts'

/**
 * Reads a template document: migrates, checks its shape, then that everything it names is there.
 * @throws Refusal with one sentence naming the place.
 */
export function readTemplate(value: unknown): Template {
  const migrated = migrate(value)
  try {
    document.validateSync(migrated, { abortEarly: true })
  } catch (error) {
    throw new Refusal('template.shape', `template.json is not right: ${(error as Error).message}.`)
  }
  const template = migrated as unknown as Template
  checkReferences(template)
  checkRings(template)
  return template
}
