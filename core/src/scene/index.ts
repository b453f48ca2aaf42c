export * from './assets.ts'
export * from './resolve.ts'
export * from './scene.ts'
