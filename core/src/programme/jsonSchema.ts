import { jsonSchemaOf } from '../schema/index.ts'
import { currentProgramme, programmeDescription } from './description.ts'

/** The programme's document as JSON Schema 2020-12; published as `docs/programme.schema.json`. */
export const programmeJsonSchema = (): Record<string, unknown> => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: `Hoja programme, schema ${currentProgramme}`,
  ...jsonSchemaOf(programmeDescription),
})
