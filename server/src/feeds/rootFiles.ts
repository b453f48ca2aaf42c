import { accessSync, constants, readdirSync, realpathSync, statSync } from 'node:fs'
import { join, relative, resolve, sep } from 'node:path'
import { dataKindOf, unknownKind } from '@hoja/core/formats'
import { limits, most } from '@hoja/core/limits'
import { demand, Refusal } from '@hoja/core/refusal'
import type { FeedSettings } from './link.ts'

/** A file that can be followed. */
export interface RootFile {
  root: string
  /** From the root, parted by `/`. */
  path: string
  size: number
  changed: string
}

const mostFiles = 2000

/** Data files under the roots, the newest first. */
export function rootFiles({ roots }: FeedSettings): RootFile[] {
  const files: RootFile[] = []
  for (const [root, folder] of Object.entries(roots)) {
    const visit = (at: string, depth: number): void => {
      for (const entry of readFolder(at)) {
        if (files.length >= mostFiles || entry.name.startsWith('.')) continue
        const path = join(at, entry.name)
        if (entry.isDirectory() && depth < 6) visit(path, depth + 1)
        else if (entry.isFile() && dataKindOf(entry.name)) {
          const { size, mtime } = statSync(path)
          files.push({ root, path: relative(folder, path).split(sep).join('/'), size, changed: mtime.toISOString() })
        }
      }
    }
    visit(folder, 0)
  }
  return files.sort((a, b) => (a.changed < b.changed ? 1 : -1))
}

function readFolder(folder: string) {
  try {
    return readdirSync(folder, { withFileTypes: true })
  } catch {
    return []
  }
}

/** Where a followed file lies, however its path is written: never outside its root. @throws Refusal */
export function filePath({ roots }: FeedSettings, root: string, path: string): string {
  const folder = Object.hasOwn(roots, root) ? roots[root] : undefined
  if (folder === undefined)
    throw new Refusal(
      'link.root',
      `There is no folder "${root}" to follow files in; start Hoja with --root ${root}=FOLDER.`,
    )
  const top = resolve(folder)
  const file = resolve(top, path)
  const outside = () => new Refusal('link.path', `"${path}" does not lie in "${root}"; choose a file of that folder.`)
  if (!file.startsWith(top + sep)) throw outside()
  if (!dataKindOf(file)) throw unknownKind(path)
  try {
    // A link on the disk may lead anywhere.
    if (!realpathSync(file).startsWith(realpathSync(top) + sep)) throw outside()
  } catch (error) {
    if (error instanceof Refusal) throw error
  }
  return file
}

/** Thrown for a file that is not there now. */
export class Gone extends Refusal {
  constructor(path: string) {
    super('link.gone', `"${path}" is not there any more; put it back, or stop following it.`)
  }
}

/** Where a followed file lies, which is there and is a file. @throws Refusal, `Gone` when it is not there */
export function dataFile(settings: FeedSettings, root: string, path: string): string {
  const file = filePath(settings, root, path)
  try {
    const facts = statSync(file)
    demand(facts.isFile(), 'link.kind', `"${path}" is no file; choose one.`)
    if (facts.size > limits.followedBytes.most)
      throw new Refusal('link.size', `"${path}" is larger than ${most('followedBytes')}; follow a smaller one.`)
    accessSync(file, constants.R_OK)
    return file
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw new Gone(path)
    if (error instanceof Refusal) throw error
    throw new Refusal('link.read', `"${path}" can't be read (${(error as NodeJS.ErrnoException).code}).`)
  }
}
