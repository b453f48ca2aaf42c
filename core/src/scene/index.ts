export * from './assets.ts'
export type { Posed } from './posed.ts'
export * from './resolve.ts'
export * from './scene.ts'
