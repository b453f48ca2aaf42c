export * from './draftDocument.ts'
export type { Step, StoredHistory } from './history.ts'
export * from './session.ts'
export * from './sheetDocument.ts'
