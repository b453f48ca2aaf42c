export * from './answers.ts'
export * from './openapi.ts'
export * from './route.ts'
export { type Api, api } from './routes.ts'
