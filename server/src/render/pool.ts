import { availableParallelism } from 'node:os'
import type { Finding, Match, Table } from '@hoja/core/data'
import type { bookOffers, DataPreview, ReadOptions } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import { Piscina } from 'piscina'
import { builtScript } from '../serverFolder.ts'
import type { FlatPicture } from './flat.ts'
import type { Footage } from './footage.ts'
import type { DecodedMovie } from './movieIn.ts'
import type { Answer, DrawnProof, ReadPackage, Task } from './worker.ts'

interface Results {
  check: Finding[][]
  rowPictures: Uint8Array[]
  contactSheets: Uint8Array[]
  signOffPdf: Uint8Array
  still: Uint8Array
  readData: { table: Table; match: Match; options: ReadOptions }
  readRows: Table
  lookAtBook: ReturnType<typeof bookOffers>
  readParts: { table: Table; match: Match }[]
  lookAtData: DataPreview
  readPackage: ReadPackage
  proofs: DrawnProof[]
  zipPackage: Uint8Array
  loop: Uint8Array
  decodeMovie: DecodedMovie
  flatPictures: FlatPicture[]
  flatDescription: object
  lookAtFootage: Footage
}

/** The threads that do all heavy work: drawing, checking, reading large files; titles are rendered by the crew. */
export class Pool {
  private readonly pool: Piscina
  readonly threads: number

  constructor(threads = Math.max(2, availableParallelism())) {
    this.threads = threads
    this.pool = new Piscina({
      filename: builtScript('worker'),
      minThreads: 1,
      maxThreads: threads,
      idleTimeout: 60_000,
      atomics: 'disabled',
    })
  }

  /** @throws Refusal as the worker threw it. */
  async run<K extends Task['kind']>(task: Extract<Task, { kind: K }>, signal?: AbortSignal): Promise<Results[K]> {
    const answer = (await this.pool.run(task, signal ? { signal } : {})) as Answer<Results[K]>
    if ('refusal' in answer) throw new Refusal(answer.refusal.code, answer.refusal.message, answer.refusal.status)
    return answer.value
  }

  close(): Promise<void> {
    return this.pool.destroy()
  }
}
