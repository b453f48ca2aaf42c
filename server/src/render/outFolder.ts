import {
  existsSync,
  constants as fs,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
} from 'node:fs'
import { copyFile, writeFile } from 'node:fs/promises'
import { dirname, isAbsolute, join } from 'node:path'
import { type ManifestEntry, manifestCsv, manifestJson } from '@hoja/core/output'
import { parseRate } from '@hoja/core/time'
import { hashOfFiles, writeWhole } from '../store/files.ts'
import { isRunning } from '../temporary.ts'
import { type Delivered, filesOf, manifestOf, piecesOf, sidecarOf } from './deliver.ts'
import { diskRefusal } from './disk.ts'
import { type Finished, finishedFolder } from './finished.ts'

const scratch = /^\.hoja-(\d+)$/

/** What systems leave in folders that people look into. */
const litter = new Set(['.DS_Store', 'Thumbs.db', 'desktop.ini'])

/** Where what is no longer asked for goes, when it is kept. */
export const supersededFolder = '_superseded'

/** A title that an order asks for: what its files are called, and what they are made of. */
export interface Asked {
  key: string
  name: string
  row: number
}

/** A title that lies in the folder: one entry of the manifest for each of its files. */
interface Lying {
  key: string
  entries: ManifestEntry[]
}

/**
 * The folder that titles are rendered into: it holds exactly what its order asks for, as its manifest says, which is written
 * after the files. A run that comes after another one, or after one that broke off, renders what is missing or has
 * changed; what is only called otherwise now is renamed, and what is no longer asked for goes. Files that no manifest
 * ever named are nobody's but the user's.
 */
export class OutFolder {
  /** Where titles are rendered: on the same disk, so that they can be moved. */
  readonly work: string
  /** By their names. */
  private readonly titles = new Map<string, Lying>()
  /** By path: what a file was when its bytes were last found to be those of the manifest. */
  private readonly known = new Map<string, string>()
  private readonly made = new Set<string>()
  /** Files about all titles together. */
  private beside: string[]
  private scratches = 0

  private readonly keepSuperseded: boolean
  private readonly timecode: string | undefined

  /**
   * @param about said in the manifest
   * @param more `keepSuperseded`: what is no longer asked for is moved aside, instead of removed; `timecode`: of each file's
   * first frame
   */
  constructor(
    readonly path: string,
    private readonly about: Record<string, unknown>,
    more: { keepSuperseded?: boolean; timecode?: string | undefined } = {},
  ) {
    this.keepSuperseded = more.keepSuperseded ?? false
    this.timecode = more.timecode
    mkdirSync(path, { recursive: true })
    for (const name of readdirSync(path)) {
      const owner = scratch.exec(name)?.[1]
      // Of a run that was killed.
      const isHalf = /^manifest\.(json|csv)\..+\.part$/.test(name)
      if (isHalf || (owner && !isRunning(Number(owner)))) rmSync(join(path, name), { recursive: true, force: true })
    }
    this.work = join(path, `.hoja-${process.pid}`)
    mkdirSync(this.work, { recursive: true })
    const { entries, beside } = readManifest(join(path, 'manifest.json'))
    for (const entry of entries) this.bookEntries([entry])
    this.beside = beside
  }

  /**
   * Brings what lies here to the names that it is asked for by now, and books that.
   * @param asked every title of the order, whether it is rendered now or not
   */
  async arrange(asked: readonly Asked[]): Promise<void> {
    const moves: { from: Lying; to: Asked }[] = []
    const free = new Map<string, Lying[]>()
    const inPlace = new Set(asked.filter(({ name, key }) => this.titles.get(name)?.key === key).map(({ name }) => name))
    for (const [name, lying] of this.titles)
      if (!inPlace.has(name)) free.set(lying.key, [...(free.get(lying.key) ?? []), lying])
    for (const title of asked) {
      if (inPlace.has(title.name)) continue
      const from = free.get(title.key)?.pop()
      if (from && (await this.isWhole(from))) moves.push({ from, to: title })
    }
    if (moves.length === 0) return
    // Names may change places: all of them go aside before the first one comes back.
    const aside = moves.map(({ from }) => {
      this.titles.delete(from.entries[0]!.title)
      return from.entries.map(({ file }) => {
        const path = join(this.work, `aside-${this.scratches++}`)
        renameSync(join(this.path, file), path)
        return path
      })
    })
    moves.forEach(({ from, to }, i) => {
      // A title that is in the way is asked for by nobody, or rendered anew.
      const other = this.titles.get(to.name)
      if (other) this.retire(other)
      const entries = from.entries.map((entry) => renamed(entry, to))
      entries.forEach((entry, n) => {
        const was = from.entries[n]!
        const path = aside[i]![n]!
        if (was.pictures) renameFrames(path, was, entry)
        this.makeFolderOf(entry.file)
        renameSync(path, join(this.path, entry.file))
      })
      for (const { marks } of from.entries) if (marks) rmSync(join(this.path, marks), { force: true })
      this.bookEntries(entries)
    })
    // Names of files stand in them: they are written once all titles have theirs.
    for (const { to } of moves) this.placeSidecars(this.titles.get(to.name)?.entries ?? [])
    this.book()
  }

  /** Whether a title lies here already, whole: every file of it with the bytes that the manifest tells. */
  async holds({ key, name, row }: Asked): Promise<boolean> {
    const lying = this.titles.get(name)
    if (lying?.key !== key || !(await this.isWhole(lying))) return false
    for (const entry of lying.entries) entry.row = row
    return true
  }

  /**
   * Brings a finished title here and books it.
   * @param root where it was rendered; out of this folder's own `work` it is moved, from elsewhere copied
   * @throws Refusal when the disk takes no more
   */
  async put(
    finished: Finished,
    row: number,
    name: string,
    root = join(this.work, 'finished'),
    version?: number,
  ): Promise<void> {
    try {
      const entries = manifestOf(finished, row, name, version)
      const before = this.titles.get(name)
      const isOwn = root.startsWith(this.work)
      for (const [i, file] of finished.files.entries()) {
        const delivered = [...filesOf(root, finished, file, name)]
        if (file.sequence) await this.placeSequence(delivered, entries[i]!.file, before)
        else await this.placeFile(delivered[0]!, isOwn)
      }
      this.placeSidecars(entries)
      if (isOwn) rmSync(finishedFolder(root, finished.key), { recursive: true, force: true })
      this.titles.delete(name)
      this.bookEntries(entries)
      // What it had in other files before, in another format or in pieces, is its own no longer.
      for (const old of before?.entries ?? []) if (!entries.some(({ file }) => file === old.file)) this.discard(old)
      for (const entry of entries) for (const path of this.pathsOf(entry)) this.known.set(path, signature(path))
    } catch (error) {
      throw diskRefusal(error) ?? error
    }
  }

  /** What lies here of which no title of these names and makings is asked for any more goes. Returns how many titles. */
  clear(asked: readonly Asked[]): number {
    const wanted = new Map(asked.map(({ name, key }) => [name, key]))
    const going = [...this.titles].filter(([name, { key }]) => wanted.get(name) !== key)
    for (const [, lying] of going) this.retire(lying)
    return going.length
  }

  /** What lies here, by row. */
  entries(): ManifestEntry[] {
    const all = [...this.titles.values()].flatMap((title) => title.entries)
    // Files of a title stay in their order.
    return all.sort((a, b) => a.row - b.row)
  }

  /** Files beside the titles, about all of them; those of a run before that are not among them go. */
  writeBeside(files: ReadonlyMap<string, Uint8Array | string>): void {
    for (const name of this.beside) if (!files.has(name)) rmSync(join(this.path, name), { force: true })
    for (const [name, content] of files) writeWhole(join(this.path, name), content)
    this.beside = [...files.keys()]
  }

  /** Writes down what lies here. */
  book(): void {
    const entries = this.entries()
    const beside = this.beside.length > 0 ? { beside: this.beside } : {}
    writeWhole(join(this.path, 'manifest.json'), manifestJson(entries, { ...this.about, ...beside }))
    writeWhole(join(this.path, 'manifest.csv'), manifestCsv(entries))
  }

  close(): void {
    rmSync(this.work, { recursive: true, force: true })
  }

  private bookEntries(entries: readonly ManifestEntry[]): void {
    for (const entry of entries) {
      const { title, key } = entry
      const lying = this.titles.get(title)
      if (lying) lying.entries.push(entry)
      else this.titles.set(title, { key, entries: [entry] })
    }
  }

  /** A title's files, of a sequence each of its frames. */
  private pathsOf(entry: ManifestEntry): string[] {
    const path = join(this.path, entry.file)
    if (!entry.pictures) return [path]
    return Array.from({ length: entry.frames }, (_, frame) => join(path, pictureName(entry, frame)))
  }

  private async isWhole({ entries }: Lying): Promise<boolean> {
    for (const entry of entries) {
      const sidecar = sidecarOf(entry, this.timecode)
      if (sidecar && !isText(join(this.path, sidecar.path), sidecar.text)) return false
      const paths = this.pathsOf(entry)
      if (!paths.every(existsSync)) return false
      if (paths.every((path) => this.known.get(path) === signature(path))) continue
      if ((await hashOfFiles(...paths)) !== entry.sha256) return false
      for (const path of paths) this.known.set(path, signature(path))
    }
    return true
  }

  /** Takes a title out of the folder, and out of the manifest. */
  private retire(lying: Lying): void {
    this.titles.delete(lying.entries[0]!.title)
    for (const entry of lying.entries) this.discard(entry)
  }

  /** Takes a file of a title out of the folder. */
  private discard(entry: ManifestEntry): void {
    const booked = [...this.titles.values()].flatMap(({ entries }) => entries)
    // On a disk that ignores case, another title may have taken its very place.
    const alike = booked.filter(({ file }) => file.toLowerCase() === entry.file.toLowerCase())
    if (alike.some(({ file }) => this.isSame(file, entry.file))) return
    if (entry.marks && !booked.some(({ marks }) => marks === entry.marks))
      rmSync(join(this.path, entry.marks), { force: true })
    if (this.keepSuperseded) this.moveAside(entry.file)
    else for (const path of this.pathsOf(entry)) rmSync(path, { force: true })
    this.removeEmpty(entry.pictures ? join(this.path, entry.file) : dirname(join(this.path, entry.file)))
  }

  private isSame(a: string, b: string): boolean {
    const [one, other] = [a, b].map((file) => statSync(join(this.path, file), { throwIfNoEntry: false })?.ino)
    return one !== undefined && one === other
  }

  private moveAside(file: string): void {
    const from = join(this.path, file)
    if (!existsSync(from)) return
    const ending = /\.[^./]+$/.exec(file)?.[0] ?? ''
    const stem = file.slice(0, file.length - ending.length)
    let to = join(this.path, supersededFolder, file)
    for (let n = 2; existsSync(to); n++) to = join(this.path, supersededFolder, `${stem}_${n}${ending}`)
    mkdirSync(dirname(to), { recursive: true })
    renameSync(from, to)
  }

  /** Removes a folder within this one in which nothing is left but what systems leave. */
  private removeEmpty(folder: string): void {
    if (folder === this.path || !folder.startsWith(this.path) || !existsSync(folder)) return
    const left = readdirSync(folder)
    if (left.some((name) => !litter.has(name))) return
    for (const name of left) rmSync(join(folder, name), { force: true })
    rmdirSync(folder)
    this.made.delete(folder)
    this.removeEmpty(dirname(folder))
  }

  private async placeFile(file: Delivered, isOwn: boolean): Promise<void> {
    this.makeFolderOf(file.path)
    const path = join(this.path, file.path)
    if (isOwn) {
      renameSync(file.from, path)
      return
    }
    const copy = join(this.work, `copy-${this.scratches++}`)
    await copyFile(file.from, copy, fs.COPYFILE_FICLONE)
    renameSync(copy, path)
  }

  /** A sequence that is new comes in one step; one that lies here is renewed frame by frame, and stays where it is placed. */
  private async placeSequence(files: readonly Delivered[], name: string, before: Lying | undefined): Promise<void> {
    const folder = join(this.path, name)
    const isFresh = !existsSync(folder)
    const into = isFresh ? join(this.work, `sequence-${this.scratches++}`) : folder
    mkdirSync(into, { recursive: true })
    let last: { at: number; bytes: Buffer } | undefined
    for (const file of files) {
      // Held frames are the same picture, over and over.
      if (last?.at !== file.at) last = { at: file.at, bytes: Buffer.concat([...piecesOf(file)]) }
      const path = join(into, file.path.split('/').pop()!)
      if (isFresh) await writeFile(path, last.bytes)
      else {
        const copy = join(this.work, `frame-${this.scratches++}`)
        await writeFile(copy, last.bytes)
        renameSync(copy, path)
      }
    }
    if (isFresh) {
      this.makeFolderOf(name)
      renameSync(into, folder)
      return
    }
    const now = new Set(files.map(({ path }) => join(this.path, path)))
    for (const entry of before?.entries.filter(({ file }) => file === name) ?? [])
      for (const path of this.pathsOf(entry)) if (!now.has(path)) rmSync(path, { force: true })
  }

  /** The files that mark where a title's Hold begins and ends. */
  private placeSidecars(entries: readonly ManifestEntry[]): void {
    for (const entry of entries) {
      const sidecar = sidecarOf(entry, this.timecode)
      if (!sidecar) continue
      this.makeFolderOf(sidecar.path)
      writeWhole(join(this.path, sidecar.path), sidecar.text)
    }
  }

  private makeFolderOf(file: string): void {
    const folder = dirname(join(this.path, file))
    if (!this.made.has(folder)) mkdirSync(folder, { recursive: true })
    this.made.add(folder)
  }
}

/** A file of a title under the name that its title has now. */
function renamed({ title, file, pictures, marks, ...entry }: ManifestEntry, to: Asked): ManifestEntry {
  const base = (name: string) => name.split('/').pop()!
  return {
    ...entry,
    row: to.row,
    title: to.name,
    file: `${to.name}${file.slice(title.length)}`,
    ...(marks ? { marks: `${to.name}.otio` } : {}),
    ...(pictures ? { pictures: `${base(to.name)}${pictures.slice(base(title).length)}` } : {}),
  }
}

const pictureName = ({ pictures }: ManifestEntry, frame: number) =>
  pictures!.replace('%04d', String(frame).padStart(4, '0'))

/** Frames in a folder that has gone aside get the name that their title has now. */
function renameFrames(folder: string, before: ManifestEntry, now: ManifestEntry): void {
  for (let frame = 0; frame < before.frames; frame++)
    renameSync(join(folder, pictureName(before, frame)), join(folder, pictureName(now, frame)))
}

const isText = (path: string, text: string) => existsSync(path) && readFileSync(path, 'utf8') === text

/** What tells a file that nobody has written to. */
function signature(path: string): string {
  const { size, mtimeMs, ino } = statSync(path)
  return `${size} ${mtimeMs} ${ino}`
}

/** What an earlier run wrote down; nothing where there was none, or somebody else's file of that name. */
function readManifest(path: string): { entries: ManifestEntry[]; beside: string[] } {
  if (!existsSync(path)) return { entries: [], beside: [] }
  try {
    const { files, beside = [] } = JSON.parse(readFileSync(path, 'utf8')) as {
      files: (ManifestEntry & { rate: string })[]
      beside?: string[]
    }
    const entries = files.map((entry) => ({
      ...entry,
      // Manifests did not always tell it.
      title: entry.title ?? entry.file.replace(/\.[^./]+$/, ''),
      rate: parseRate(entry.rate),
    }))
    // No way out of the folder, whoever wrote it.
    return { entries: entries.filter(({ file }) => isWithin(file)), beside: beside.filter(isWithin) }
  } catch {
    return { entries: [], beside: [] }
  }
}

const isWithin = (file: string) => !isAbsolute(file) && !file.split(/[\\/]/).includes('..')
