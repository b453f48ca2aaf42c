export { fieldsAsDrawn } from './fields.ts'
export { type Option, type Proposal, tieAsDrawn } from './tieAsDrawn.ts'
