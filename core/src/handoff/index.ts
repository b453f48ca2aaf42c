export * from './advice.ts'
export * from './difference.ts'
export * from './moving.ts'
