export { type Fault, faultIn } from './faults.ts'
export { jsonSchemaOf } from './jsonSchema.ts'
export { type Found, palettePrefix, type Renamed, references, withNumbers, withReferences } from './mapping.ts'
export * from './nodes.ts'
