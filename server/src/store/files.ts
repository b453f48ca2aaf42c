import { createHash, randomUUID } from 'node:crypto'
import {
  closeSync,
  constants,
  createReadStream,
  existsSync,
  fstatSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs'
import { copyFile } from 'node:fs/promises'
import { basename, dirname, join, resolve } from 'node:path'
import type { PackageFiles, TemplatePackage } from '@hoja/core/formats'
import { amount, limits } from '@hoja/core/limits'
import { demand, Refusal } from '@hoja/core/refusal'
import { carriedBy, type Template } from '@hoja/core/template'

export function hashOf(bytes: Uint8Array | string): string {
  return createHash('sha256').update(bytes).digest('hex')
}

/** SHA-256 of files behind one another, read piece by piece, with room for other work between two. */
export async function hashOfFiles(...paths: readonly string[]): Promise<string> {
  const hash = createHash('sha256')
  for (const path of paths)
    for await (const piece of createReadStream(path, { highWaterMark: 1 << 18 })) hash.update(piece as Buffer)
  return hash.digest('hex')
}

/** What a file holds by now is there after a power cut, too. */
export function syncFile(path: string): void {
  const file = openSync(path, 'r+')
  try {
    fsyncSync(file)
  } finally {
    closeSync(file)
  }
}

/** What systems and network shares say that cannot sync a folder, or not let it be opened; they see to it themselves. */
const notForFolders = ['EINVAL', 'ENOTSUP', 'EISDIR', 'EPERM', 'EACCES']

/** What a folder holds by now is there after a power cut, too: a new name in it is not a matter of the file's own bytes. */
export function syncFolder(path: string): void {
  let folder: number | undefined
  try {
    folder = openSync(path, 'r')
    fsyncSync(folder)
  } catch (error) {
    if (!notForFolders.includes((error as NodeJS.ErrnoException).code ?? '')) throw error
  } finally {
    if (folder !== undefined) closeSync(folder)
  }
}

/** Makes a folder, and those above it that are missing. */
export function makeFolder(path: string): void {
  const first = mkdirSync(path, { recursive: true })
  if (first === undefined) return
  const above = dirname(resolve(first))
  for (let folder = resolve(path); folder !== above; ) {
    folder = dirname(folder)
    syncFolder(folder)
  }
}

/** Writes a file so that it is there whole or not at all: under another name, synced, then renamed. */
export function writeWhole(path: string, bytes: Uint8Array | string): void {
  makeFolder(dirname(path))
  const temporary = `${path}.${randomUUID()}.part`
  try {
    const file = openSync(temporary, 'w')
    try {
      const data = typeof bytes === 'string' ? Buffer.from(bytes) : bytes
      for (let at = 0; at < data.length; ) at += writeSync(file, data, at)
      fsyncSync(file)
    } finally {
      closeSync(file)
    }
    renameSync(temporary, path)
    syncFolder(dirname(path))
  } catch (error) {
    rmSync(temporary, { force: true })
    throw error
  }
}

export const isFolder = (path: string): boolean => statSync(path, { throwIfNoEntry: false })?.isDirectory() ?? false

/**
 * The bytes of a file, which is a file: a pipe or a device would be read for ever, or never answer.
 * @throws Refusal for anything else, or a file that is too large
 */
export function readRegular(path: string, most: number = limits.uploadBytes.most): Buffer {
  const file = openSync(path, constants.O_RDONLY | (constants.O_NONBLOCK ?? 0))
  try {
    const facts = fstatSync(file)
    demand(facts.isFile(), 'file.kind', `"${basename(path)}" is no file; choose one.`)
    if (facts.size > most)
      throw new Refusal(
        'file.large',
        `"${basename(path)}" is larger than ${amount(most, 'bytes')}; make it smaller.`,
        413,
      )
    return readFileSync(file)
  } finally {
    closeSync(file)
  }
}

/** A template with all that it carries. */
export function packageOf(store: FileStore, template: Template, poster?: Uint8Array): TemplatePackage {
  const files: PackageFiles = {}
  for (const entry of carriedBy(template)) files[entry.file] = store.get(entry.sha256)
  if (poster) files['poster.png'] = poster
  return { template, files }
}

/** Copies a file so that it is there whole or not at all. @throws Refusal when its bytes are not those of `sha256` */
export async function copyWhole(from: string, to: string, sha256: string): Promise<void> {
  makeFolder(dirname(to))
  const temporary = `${to}.${randomUUID()}.part`
  try {
    await copyFile(from, temporary, constants.COPYFILE_FICLONE)
    if ((await hashOfFiles(temporary)) !== sha256)
      throw new Refusal('file.damaged', `The file ${sha256.slice(0, 12)}… is damaged; it was not copied.`)
    syncFile(temporary)
    renameSync(temporary, to)
    syncFolder(dirname(to))
  } catch (error) {
    rmSync(temporary, { force: true })
    throw error
  }
}

/** Files by their content, in a folder beside the database. */
export class FileStore {
  constructor(readonly folder: string) {}

  path(sha256: string): string {
    if (!/^[0-9a-f]{64}$/.test(sha256))
      throw new Refusal('asset.hash', `"${sha256}" is not the name of a stored file.`, 404)
    return join(this.folder, sha256.slice(0, 2), sha256)
  }

  put(bytes: Uint8Array | string): string {
    const sha256 = hashOf(bytes)
    if (!existsSync(this.path(sha256))) writeWhole(this.path(sha256), bytes)
    return sha256
  }

  /** Takes in a file that lies on the same disk: it is not there afterwards. */
  async take(path: string): Promise<{ sha256: string; size: number }> {
    const sha256 = await hashOfFiles(path)
    const { size } = statSync(path)
    const to = this.path(sha256)
    if (existsSync(to)) rmSync(path)
    else {
      makeFolder(dirname(to))
      syncFile(path)
      renameSync(path, to)
      syncFolder(dirname(to))
    }
    return { sha256, size }
  }

  /** Where a file lies that is there. @throws Refusal */
  there(sha256: string): string {
    const path = this.path(sha256)
    if (!existsSync(path)) throw new Refusal('asset.gone', `The file ${sha256.slice(0, 12)}… is not stored here.`, 404)
    return path
  }

  get(sha256: string): Buffer {
    return readFileSync(this.there(sha256))
  }
}
