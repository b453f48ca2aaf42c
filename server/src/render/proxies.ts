import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import type { Jobs } from '../jobs/jobs.ts'
import type { FileStore } from '../store/files.ts'
import { type ProxyFacts, proxyFiles } from './proxy.ts'

/** How far a movie's proxy is. */
export type ProxyState =
  | ({ state: 'ready' } & ProxyFacts)
  | { state: 'making'; share: number }
  | { state: 'failed'; reason: string }

/** The proxies of movies that lie under titles, by the SHA-256 of their originals, each made when it is first asked for. */
export class Proxies {
  private readonly making = new Map<string, number>()
  private readonly failed = new Map<string, string>()

  constructor(
    private readonly folder: string,
    private readonly files: FileStore,
    private readonly jobs: Jobs,
  ) {
    mkdirSync(folder, { recursive: true })
    // What was being made when the server ended is made anew.
    for (const name of readdirSync(folder)) if (name.endsWith('.part')) rmSync(join(folder, name), { force: true })
  }

  /** The files of a proxy that is ready. */
  filesOf(sha256: string) {
    return proxyFiles(join(this.folder, sha256))
  }

  status(sha256: string, name: string): ProxyState {
    const { facts } = this.filesOf(sha256)
    if (existsSync(facts)) return { state: 'ready', ...(JSON.parse(readFileSync(facts, 'utf8')) as ProxyFacts) }
    const reason = this.failed.get(sha256)
    if (reason !== undefined) return { state: 'failed', reason }
    if (!this.making.has(sha256)) void this.make(sha256, name)
    return { state: 'making', share: this.making.get(sha256) ?? 0 }
  }

  /** Clears away the proxies of movies that are not kept any more. */
  clear(isKept: (sha256: string) => boolean): void {
    for (const name of readdirSync(this.folder)) {
      const [sha256] = name.split('.')
      if (sha256 && !this.making.has(sha256) && !isKept(sha256)) rmSync(join(this.folder, name), { force: true })
    }
  }

  private async make(sha256: string, name: string): Promise<void> {
    this.making.set(sha256, 0)
    try {
      const file = { path: this.files.there(sha256), name }
      await this.jobs.run<'makeProxy'>(
        { kind: 'makeProxy', file, base: join(this.folder, sha256) },
        {
          onPiece: ([told]) => {
            const { done, of } = JSON.parse(told!) as { done: number; of: number }
            this.making.set(sha256, done / of)
          },
        },
      )
    } catch (error) {
      this.failed.set(sha256, error instanceof Refusal ? error.message : `No proxy of "${name}" could be made.`)
    } finally {
      this.making.delete(sha256)
    }
  }
}
