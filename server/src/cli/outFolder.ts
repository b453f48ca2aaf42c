import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { type ManifestEntry, manifestCsv, manifestJson } from '@hoja/core/output'
import { parseRate } from '@hoja/core/time'
import { type Delivered, manifestOf, piecesOf, titleFiles } from '../render/deliver.ts'
import { diskRefusal } from '../render/disk.ts'
import { type Finished, finishedFolder } from '../render/unit.ts'
import { writeWhole } from '../store/files.ts'

const scratch = /^\.hoja-(\d+)$/

/**
 * The folder that titles are rendered into. Its manifest says what lies there and what it was made of: a run that comes
 * after another one, or after one that broke off, renders what is missing or has changed.
 */
export class OutFolder {
  /** Where units are rendered: on the same disk, so that they can be moved. */
  readonly work: string
  private readonly entries = new Map<string, ManifestEntry>()
  private readonly made = new Set<string>()

  constructor(
    readonly path: string,
    private readonly about: Record<string, unknown>,
  ) {
    mkdirSync(path, { recursive: true })
    for (const name of readdirSync(path)) {
      const owner = scratch.exec(name)?.[1]
      // Of a run that was killed.
      if (owner && !isAlive(Number(owner))) rmSync(join(path, name), { recursive: true, force: true })
    }
    this.work = join(path, `.hoja-${process.pid}`)
    mkdirSync(this.work)
    for (const entry of readManifest(join(path, 'manifest.json'))) this.entries.set(entry.file, entry)
  }

  /** Whether a title of this name and making lies here already, whole. */
  holds(key: string, file: string): boolean {
    const entry = this.entries.get(file)
    const path = join(this.path, file)
    if (entry?.key !== key || !existsSync(path)) return false
    const found = statSync(path)
    return found.isDirectory() ? readdirSync(path).length === entry.frames : found.size === entry.bytes
  }

  /** Moves a finished title here and books it. @throws Refusal when the disk takes no more */
  put(finished: Finished, row: number, name: string): void {
    try {
      const root = join(this.work, 'finished')
      for (const file of titleFiles(root, finished, name)) this.place(file, finished.sequence !== undefined)
      rmSync(finishedFolder(root, finished.key), { recursive: true, force: true })
      for (const entry of manifestOf(finished, row, name)) this.entries.set(entry.file, entry)
    } catch (error) {
      throw diskRefusal(error) ?? error
    }
  }

  /** Writes down what lies here. */
  book(): void {
    const entries = [...this.entries.values()].sort((a, b) => a.row - b.row || (a.file < b.file ? -1 : 1))
    writeWhole(join(this.path, 'manifest.json'), manifestJson(entries, this.about))
    writeWhole(join(this.path, 'manifest.csv'), manifestCsv(entries))
  }

  close(): void {
    rmSync(this.work, { recursive: true, force: true })
  }

  private place(file: Delivered, isPiece: boolean): void {
    const path = join(this.path, file.path)
    const folder = dirname(path)
    if (!this.made.has(folder)) mkdirSync(folder, { recursive: true })
    this.made.add(folder)
    if (!isPiece) {
      renameSync(file.from, path)
      return
    }
    try {
      writeFileSync(`${path}.part`, Buffer.concat([...piecesOf(file)]))
      renameSync(`${path}.part`, path)
    } catch (error) {
      rmSync(`${path}.part`, { force: true })
      throw error
    }
  }
}

/** What an earlier run wrote down; nothing where there was none, or somebody else's file of that name. */
function readManifest(path: string): ManifestEntry[] {
  if (!existsSync(path)) return []
  try {
    const { files } = JSON.parse(readFileSync(path, 'utf8')) as { files: (ManifestEntry & { rate: string })[] }
    return files.map((entry) => ({ ...entry, rate: parseRate(entry.rate) }))
  } catch {
    return []
  }
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}
