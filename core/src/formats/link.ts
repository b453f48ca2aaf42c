import type { ReadOptions } from './dataFile.ts'

/** What a sheet's rows follow: a file under one of the server's configured folders, or a feed looked at every so many seconds. */
export type Link =
  | { kind: 'file'; root: string; path: string; options: ReadOptions }
  | { kind: 'feed'; url: string; every: number; options: ReadOptions }

/** How following stands. `waiting`: nothing was read yet since the server started. */
export interface LinkStatus {
  state: 'good' | 'waiting' | 'broken' | 'gone'
  /** When the data was last read well; null: not since the server started. */
  read: string | null
  /** What is wrong, in a sentence; the last good rows stay. */
  message: string
}
