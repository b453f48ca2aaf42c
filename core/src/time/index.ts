export * from './rate.ts'
export * from './timecode.ts'
