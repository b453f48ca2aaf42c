export { fieldsAsDrawn } from './fields.ts'
export type { Option, Proposal } from './proposal.ts'
export { nameWords } from './sentences.ts'
export { tieAsDrawn } from './tieAsDrawn.ts'
