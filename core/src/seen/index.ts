export * from './apart.ts'
export * from './layers.ts'
export * from './measure.ts'
