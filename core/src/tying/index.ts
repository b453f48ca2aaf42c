export { fieldsAsDrawn } from './fields.ts'
export type { Option, Proposal } from './proposal.ts'
export { tieAsDrawn } from './tieAsDrawn.ts'
