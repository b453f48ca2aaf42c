import { randomUUID } from 'node:crypto'
import { EventEmitter } from 'node:events'
import { rm, writeFile } from 'node:fs/promises'
import { basename, join } from 'node:path'
import type { Splice, Table } from '@hoja/core/data'
import type { Link, LinkStatus, ReadOptions } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import type { FSWatcher } from 'chokidar'
import chokidar from 'chokidar'
import type { Jobs } from '../jobs/jobs.ts'
import type { Brought } from '../jobs/tasks.ts'
import type { Store } from '../store/index.ts'
import { type FetchedFeed, fetchFeed } from './fetchFeed.ts'
import type { FeedSettings } from './link.ts'
import { dataFile, filePath, Gone } from './rootFiles.ts'

/** What followers of a sheet hear: how following stands, and what changed, if anything did. */
export interface SheetNews {
  sheet: number
  status: LinkStatus
  /** What leads from the revision before to the one now. */
  change?: { from: number; revision: number; columns: string[]; changes: Splice[] }
}

/** ms: a save is often several writes right after one another. */
const settle = 25
/** ms after which a file is read that is written again and again without a pause. */
const longest = 200

interface Following {
  link: Link
  status: LinkStatus
  watcher?: FSWatcher
  timer?: NodeJS.Timeout
  /** Something was written, and more may come. */
  settling?: boolean
  tag?: string | undefined
  /** A read is under way; `again`: something changed since it began. */
  reading: boolean
  again: boolean
}

/** Keeps linked sheets as their files and feeds are. */
export class Follower {
  private readonly followed = new Map<number, Following>()
  private readonly events = new EventEmitter().setMaxListeners(0)
  private closed = false

  constructor(
    private readonly store: Store,
    private readonly jobs: Jobs,
    readonly settings: FeedSettings,
  ) {
    for (const { id } of store.sheets.linked()) this.follow(id)
  }

  status(sheet: number): LinkStatus | undefined {
    return this.followed.get(sheet)?.status
  }

  onNews(listener: (news: SheetNews) => void): () => void {
    this.events.on('news', listener)
    return () => this.events.off('news', listener)
  }

  /** What a link leads to now, as a file for a job to open. @throws Refusal */
  async withFile<T>(link: Link, work: (file: Brought) => Promise<T>): Promise<T> {
    if (link.kind === 'file')
      return work({ path: dataFile(this.settings, link.root, link.path), name: basename(link.path) })
    return this.asFile((await fetchFeed(this.settings, link.url))!, work)
  }

  /** A feed's answer as a file, for as long as it is read. */
  private async asFile<T>({ bytes, name }: FetchedFeed, work: (file: Brought) => Promise<T>): Promise<T> {
    const path = join(this.store.incoming, `${randomUUID()}.part`)
    try {
      await writeFile(path, bytes)
      return await work({ path, name })
    } finally {
      await rm(path, { force: true })
    }
  }

  /** Begins to follow what a sheet is linked to, or ends it when it no longer is. */
  follow(sheet: number): void {
    this.forget(sheet)
    const { link } = this.store.sheets.get(sheet)
    if (!link) return
    const own: Following = {
      link,
      status: { state: 'waiting', read: null, message: '' },
      reading: false,
      again: false,
    }
    this.followed.set(sheet, own)
    if (link.kind === 'file') this.watch(sheet, own, link)
    else void this.read(sheet)
  }

  /** Reads what a sheet follows again, now. @throws Refusal for a sheet that follows nothing */
  async again(sheet: number): Promise<LinkStatus> {
    const own = this.followed.get(sheet)
    if (!own) throw new Refusal('link.none', 'This sheet follows nothing; its rows are its own.', 404)
    clearTimeout(own.timer)
    // What is said to be unchanged since is read all the same.
    own.tag = undefined
    await this.read(sheet)
    return own.status
  }

  forget(sheet: number): void {
    const own = this.followed.get(sheet)
    this.followed.delete(sheet)
    clearTimeout(own?.timer)
    void own?.watcher?.close()
  }

  async close(): Promise<void> {
    this.closed = true
    await Promise.all([...this.followed.values()].map(({ watcher }) => watcher?.close()))
    for (const sheet of [...this.followed.keys()]) this.forget(sheet)
  }

  private watch(sheet: number, own: Following, link: Extract<Link, { kind: 'file' }>): void {
    let path: string
    try {
      path = filePath(this.settings, link.root, link.path)
    } catch (error) {
      own.status = { ...own.status, state: 'broken', message: (error as Refusal).message }
      return
    }
    own.watcher = chokidar.watch(path, { ignoreInitial: true, atomic: false })
    // Read once it is watched: what is saved in between would be missed.
    own.watcher.once('ready', () => void this.read(sheet))
    let first = 0
    const soon = () => {
      const now = Date.now()
      if (!own.settling) first = now
      clearTimeout(own.timer)
      own.settling = true
      own.timer = setTimeout(
        () => {
          own.settling = false
          void this.read(sheet)
        },
        Math.min(settle, Math.max(0, first + longest - now)),
      )
    }
    own.watcher.on('all', soon)
    // Of changes within 50 ms of one another it tells the first alone; the system tells of each.
    own.watcher.on('raw', soon)
  }

  private async read(sheet: number): Promise<void> {
    const own = this.followed.get(sheet)
    if (!own || this.closed) return
    if (own.reading) {
      own.again = true
      return
    }
    own.reading = true
    try {
      const table = await this.table(sheet, own)
      if (this.followed.get(sheet) === own && !this.closed) this.take(sheet, own, table)
    } catch (error) {
      if (this.followed.get(sheet) === own && !this.closed) this.tell(sheet, own, this.trouble(error))
    } finally {
      own.reading = false
      if (own.again) {
        own.again = false
        void this.read(sheet)
      } else if (own.link.kind === 'feed' && !this.closed && this.followed.get(sheet) === own)
        own.timer = setTimeout(() => void this.read(sheet), own.link.every * 1000)
    }
  }

  /** What the link holds now; undefined: the same as before. @throws Refusal */
  private async table(sheet: number, own: Following): Promise<Table | undefined> {
    const { link } = own
    const { sheets, templates } = this.store
    const template = templates.published(templates.version(sheets.get(sheet).version))
    const options: ReadOptions = { ...link.options, followed: true }
    const read = (file: Brought) => this.jobs.run<'readRows'>({ kind: 'readRows', file, options, template })
    if (link.kind === 'file') return this.withFile(link, read)
    const fetched = await fetchFeed(this.settings, link.url, own.tag)
    own.tag = fetched?.tag
    return fetched && this.asFile(fetched, read)
  }

  private take(sheet: number, own: Following, table: Table | undefined): void {
    const result = table && this.store.sheets.refresh(sheet, table)
    const status: LinkStatus = { state: 'good', read: new Date().toISOString(), message: '' }
    const change = result && {
      from: result.sheet.revision - 1,
      revision: result.sheet.revision,
      columns: result.sheet.columns,
      changes: result.changes,
    }
    this.tell(sheet, own, status, change)
  }

  private trouble(error: unknown): Pick<LinkStatus, 'state' | 'message'> {
    if (!(error instanceof Refusal))
      return { state: 'broken', message: `It could not be read: ${(error as Error).message}.` }
    return { state: error instanceof Gone ? 'gone' : 'broken', message: error.message }
  }

  private tell(sheet: number, own: Following, status: Partial<LinkStatus>, change?: SheetNews['change']): void {
    const before = own.status
    own.status = { ...before, ...status }
    if (change || own.status.state !== before.state || own.status.message !== before.message || before.read === null)
      this.events.emit('news', { sheet, status: own.status, ...(change ? { change } : {}) } satisfies SheetNews)
  }
}
