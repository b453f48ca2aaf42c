import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { writeWhole } from './files.ts'

/** Previews that are kept; each can be drawn again. */
const keep = 1000

/** Posters and small moving pictures of templates by what they show, the oldest let go first. */
export class Previews {
  constructor(private readonly folder: string) {}

  get(name: string): Uint8Array | undefined {
    const file = join(this.folder, name)
    return existsSync(file) ? readFileSync(file) : undefined
  }

  put(name: string, bytes: Uint8Array): void {
    mkdirSync(this.folder, { recursive: true })
    const files = readdirSync(this.folder)
    if (files.length >= keep) {
      const age = (file: string) => statSync(join(this.folder, file)).mtimeMs
      const oldest = files.reduce((a, b) => (age(b) < age(a) ? b : a))
      rmSync(join(this.folder, oldest), { force: true })
    }
    writeWhole(join(this.folder, name), bytes)
  }
}
