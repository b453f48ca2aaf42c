import { isAbsolute, join, relative, resolve } from 'node:path'
import type { Row } from '@hoja/core/data'
import type { OutputSettings } from '@hoja/core/output'
import { demand, Refusal } from '@hoja/core/refusal'
import type { Store } from '../store/index.ts'
import type { Order, OutputRow } from '../store/outputs.ts'
import { conformLists } from './deliver.ts'
import { diskRefusal } from './disk.ts'
import { readFinished } from './finished.ts'
import { type Asked, OutFolder } from './outFolder.ts'
import type { Queue } from './queue.ts'

/** Folders in which others may be kept current, by the names that people choose them by. */
export type KeepRoots = Record<string, string>

/** Where an output keeps its files. @throws Refusal for a root that is not there, or a way out of it */
export function keptFolder(roots: KeepRoots, { root, folder }: NonNullable<OutputSettings['keep']>): string {
  const base = Object.hasOwn(roots, root) ? roots[root] : undefined
  demand(base, 'keep.root', `"${root}" is no folder of this Hoja; choose ${Object.keys(roots).join(' or ')}.`)
  const path = resolve(base, folder)
  const way = relative(base, path)
  demand(
    way !== '' && !way.startsWith('..') && !isAbsolute(way),
    'keep.folder',
    `"${folder}" lies outside of "${root}"; name a folder in it.`,
  )
  return path
}

/** ms for which a sheet must rest before its folder follows it. */
const every = 1000
/** ms between two looks at what has been finished. */
const gather = 300

interface Kept {
  folder: OutFolder
  path: string
  /** Titles that were brought since it was last told. */
  brought: number
  /** The revision of the sheet whose names the files have by now. */
  arranged?: number | null
}

/**
 * Keeps folders as their sheets are: orders what has changed again once a sheet rests, and brings what is finished into the
 * folder, title by title. A title is put in place whole, under the name that it had: whatever has it placed sees it anew.
 */
export class Keeper {
  private readonly kept = new Map<number, Kept>()
  private readonly due = new Map<number, NodeJS.Timeout>()
  /** By output: the revision that its sheet had when it was looked at last. */
  private readonly seen = new Map<number, number>()
  private readonly timer: NodeJS.Timeout
  private readonly stop: () => void
  /** One piece of work after another: what is ordered and what is brought never meet. */
  private working = Promise.resolve()

  constructor(
    private readonly store: Store,
    private readonly queue: Queue,
    readonly roots: KeepRoots,
    private readonly asks: {
      /** An order of a sheet as it is now. */
      orderNow: (output: OutputRow) => Promise<Order>
      /** By what a row's title is known once it is rendered. */
      keyOf: (output: OutputRow) => (row: Row) => string
      /** Pictures of all titles together. */
      contactSheets: (output: OutputRow) => Promise<Map<string, Uint8Array>>
    },
  ) {
    this.timer = setInterval(() => this.poll(), every)
    this.timer.unref()
    this.stop = queue.onChange((output) => this.soon(output))
    for (const { id } of store.outputs.keeping()) this.soon(id)
  }

  /** @throws Refusal for a folder that another output keeps */
  check(keep: NonNullable<OutputSettings['keep']>): void {
    const path = keptFolder(this.roots, keep)
    const other = this.store.outputs.keeping().find(({ settings }) => this.pathOf(settings) === path)
    demand(
      !other,
      'keep.taken',
      `"${keep.folder}" is kept current by output ${other?.id}; stop that one, or name another folder.`,
    )
  }

  async close(): Promise<void> {
    clearInterval(this.timer)
    this.stop()
    for (const timer of this.due.values()) clearTimeout(timer)
    await this.working
    for (const { folder } of this.kept.values()) folder.close()
  }

  private pathOf({ keep }: OutputSettings): string | undefined {
    try {
      return keep && keptFolder(this.roots, keep)
    } catch {
      return undefined
    }
  }

  /** Orders anew what lies behind a sheet that has changed and rests. */
  private poll(): void {
    const { outputs, sheets } = this.store
    for (const output of outputs.keeping()) {
      if (output.state !== 'done' || output.sheet === null) continue
      const { revision } = sheets.get(output.sheet)
      const rests = this.seen.get(output.id) === revision
      this.seen.set(output.id, revision)
      if (revision !== output.revision && rests) this.renew(output, revision)
    }
  }

  private renew(output: OutputRow, revision: number): void {
    const { outputs } = this.store
    this.work(output.id, 'The sheet could not be ordered again', async () => {
      try {
        const order = await this.asks.orderNow(output)
        if (outputs.get(output.id).state !== 'done') return
        outputs.renew(output.id, order, revision)
        this.queue.wake()
      } catch (error) {
        // Nothing of it can be rendered: as it was it stays, until the sheet changes again.
        outputs.kept(output.id, revision)
        throw error
      }
    })
  }

  /** Work that comes after what is under way; what goes wrong in it is told. */
  private work(id: number, trouble: string, work: () => Promise<void>): void {
    this.working = this.working.then(work).catch((error: unknown) => {
      const { message } = error instanceof Refusal ? error : (diskRefusal(error) ?? (error as Error))
      // It may have been removed meanwhile.
      if (this.store.outputs.keeping().some((one) => one.id === id)) this.say(id, `${trouble}: ${message}`)
    })
  }

  private soon(id: number): void {
    if (this.due.has(id)) return
    const timer = setTimeout(() => {
      this.due.delete(id)
      this.work(id, 'The folder could not be brought up to date', () => this.bring(id))
    }, gather)
    timer.unref()
    this.due.set(id, timer)
  }

  /** Brings what is finished into the folder; when all of it is, what is no longer asked for goes. */
  private async bring(id: number): Promise<void> {
    const { outputs, templates, finished: root } = this.store
    const output = outputs.keeping().find((one) => one.id === id)
    if (!output) return
    const { settings, version } = output
    const { template, number } = templates.version(version)
    const kept = this.folderOf(output, { template, version: number })
    const { folder } = kept
    const titles = outputs.contents(id)
    if (kept.arranged !== output.revision) {
      // What waits still is known by what it will be: it keeps its place, or takes its new one.
      const keyOf = this.asks.keyOf(output)
      await folder.arrange(
        titles.map(({ n, name, row, result }): Asked => ({ row: n, name, key: result ?? keyOf(row) })),
      )
      kept.arranged = output.revision
    }
    const done = titles.flatMap(({ n, name, state, result }): Asked[] =>
      state === 'done' && result ? [{ row: n, name, key: result }] : [],
    )
    for (const title of done) {
      if (await folder.holds(title)) continue
      const finished = readFinished(root, title.key)
      if (!finished) continue
      await folder.put(finished, title.row, title.name, root, number)
      kept.brought++
    }
    if (output.state === 'done') {
      const gone = folder.clear(done)
      folder.writeBeside(await this.beside(output, folder))
      const { brought } = kept
      kept.brought = 0
      if (brought + gone > 0) this.say(id, wordsFor(brought, gone, settings))
    }
    folder.book()
  }

  private say(output: number, text: string): void {
    // What stays in the way is said once.
    if (this.store.outputs.lines(output, 1)[0]?.text === text) return
    this.store.outputs.log(output, text)
    this.queue.tell(output)
  }

  private async beside(output: OutputRow, folder: OutFolder): Promise<Map<string, Uint8Array | string>> {
    const { settings, sheet, match } = output
    const files = new Map<string, Uint8Array | string>()
    if (settings.contactSheet)
      for (const [name, picture] of await this.asks.contactSheets(output)) files.set(name, picture)
    if (settings.conform && sheet !== null) {
      const { sheets } = this.store
      const rows = sheets.rows(sheet)
      const about = { name: sheets.get(sheet).name, match, timecode: settings.timecode }
      for (const { path, text } of conformLists(folder.entries(), about, (n) => rows[n - 1])) files.set(path, text)
    }
    return files
  }

  private folderOf({ id, settings }: OutputRow, about: Record<string, unknown>): Kept {
    const path = keptFolder(this.roots, settings.keep!)
    const known = this.kept.get(id)
    if (known?.path === path) return known
    const more = { keepSuperseded: settings.keep!.superseded === true, timecode: settings.timecode }
    const kept = { path, folder: new OutFolder(path, about, more), brought: 0 }
    this.kept.set(id, kept)
    return kept
  }
}

function wordsFor(put: number, gone: number, { keep }: OutputSettings): string {
  const titles = (n: number) => `${n} ${n === 1 ? 'title' : 'titles'}`
  return [
    ...(put > 0 ? [`${titles(put)} brought to "${keep!.folder}".`] : []),
    ...(gone > 0 ? [`${titles(gone)} no longer asked for ${keep!.superseded ? 'set aside' : 'removed'}.`] : []),
  ].join(' ')
}

/** Where folders are kept when nobody says otherwise: beside the data. */
export const keptBeside = (data: string): KeepRoots => ({ kept: join(data, 'kept') })
