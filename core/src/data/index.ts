export * from './checks.ts'
export * from './convert.ts'
export * from './match.ts'
export * from './table.ts'
