export * from './length.ts'
export * from './rate.ts'
export * from './timecode.ts'
