export * from './data.ts'
export * from './measure.ts'
export * from './outline.ts'
