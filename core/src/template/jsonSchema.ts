import { jsonSchemaOf } from '../schema/index.ts'
import { document } from './description.ts'
import { currentSchema } from './migrations.ts'

/** The template document as JSON Schema 2020-12; published as `docs/template.schema.json`. */
export const templateJsonSchema = (): Record<string, unknown> => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: `Hoja template, schema ${currentSchema}`,
  ...jsonSchemaOf(document),
})
