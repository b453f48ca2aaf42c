export * from './pattern.ts'
export * from './search.ts'
