export * from './explain.ts'
export * from './gone.ts'
export * from './solve.ts'
