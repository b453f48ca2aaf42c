import { Refusal } from '@hoja/core/refusal'
import type { Rate } from '@hoja/core/time'
import type { Db } from './database.ts'
import type { FileStore } from './files.ts'

export type AssetInfo =
  | { kind: 'font'; family: string; style: string }
  | { kind: 'picture'; width: number; height: number; type: string; movie?: { frames: number; rate: Rate } }
  | { kind: 'sound'; seconds: number; type: string }

export type Asset = AssetInfo & { sha256: string; name: string; size: number }

/** Fonts, pictures and sounds, each kept once however many templates use it. */
export class Assets {
  constructor(
    private readonly db: Db,
    private readonly files: FileStore,
  ) {}

  /** Writes down a file that lies in the store; what a job found it to be is what it is. @throws Refusal when it does not */
  record(asset: Asset): void {
    const { sha256, kind, name, size, ...info } = asset
    this.files.there(sha256)
    this.write(sha256, kind, name, size, { kind, ...info })
  }

  /** Keeps a published document among the files. */
  addDocument(text: string, name: string): string {
    const sha256 = this.files.put(text)
    this.write(sha256, 'document', name, Buffer.byteLength(text), {})
    return sha256
  }

  /** Writes down a movie that lies under titles, as it came. */
  recordFootage(sha256: string, name: string, size: number, info: object): void {
    this.write(sha256, 'footage', name, size, info)
  }

  private write(sha256: string, kind: string, name: string, size: number, info: object): void {
    this.db
      .prepare(
        'INSERT INTO assets (sha256, kind, name, size, info) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET unused = NULL',
      )
      .run(sha256, kind, name, size, JSON.stringify(info))
  }

  /** An asset as it was added. @throws Refusal */
  get(sha256: string): Asset {
    const row = this.db.prepare('SELECT sha256, name, size, info FROM assets WHERE sha256 = ?').get(sha256) as
      | { sha256: string; name: string; size: number; info: string }
      | undefined
    if (!row) throw new Refusal('asset.none', 'There is no such font, picture or sound.', 404)
    const { info, ...rest } = row
    return { ...(JSON.parse(info) as AssetInfo), ...rest }
  }

  /** Every font that somebody brought, by family and style. */
  fonts(): (Asset & { kind: 'font' })[] {
    const rows = this.db.prepare("SELECT sha256 FROM assets WHERE kind = 'font'").all() as { sha256: string }[]
    return rows
      .map(({ sha256 }) => this.get(sha256) as Asset & { kind: 'font' })
      .sort((a, b) => a.family.localeCompare(b.family) || a.style.localeCompare(b.style))
  }

  /** What took the place of a font the last time it was missing. */
  fontInstead(family: string, style: string): Asset | undefined {
    const row = this.db.prepare('SELECT sha256 FROM fonts_instead WHERE family = ? AND style = ?').get(family, style) as
      | { sha256: string }
      | undefined
    return row && this.get(row.sha256)
  }

  rememberFont(family: string, style: string, sha256: string): void {
    this.db
      .prepare('INSERT INTO fonts_instead VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET sha256 = excluded.sha256')
      .run(family, style, sha256)
  }

  find(sha256: string): { kind: string; info: Record<string, unknown> } | undefined {
    const row = this.db.prepare('SELECT kind, info FROM assets WHERE sha256 = ?').get(sha256) as
      | { kind: string; info: string }
      | undefined
    return row && { kind: row.kind, info: JSON.parse(row.info) }
  }
}
