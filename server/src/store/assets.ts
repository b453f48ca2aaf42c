import { readImageHeader } from '@hoja/core/formats'
import { Font } from '@hoja/core/text'
import type { Db } from './database.ts'
import type { FileStore } from './files.ts'

export type AssetInfo =
  | { kind: 'font'; family: string; style: string }
  | { kind: 'picture'; width: number; height: number; type: string }

export type Asset = AssetInfo & { sha256: string; name: string; size: number }

/** Fonts and pictures, each kept once however many templates use it. */
export class Assets {
  constructor(
    private readonly db: Db,
    private readonly files: FileStore,
  ) {}

  /** Looks at bytes as what their name says they are. @throws Refusal for a font that is no font, a picture that is none. */
  inspect(bytes: Uint8Array, name: string): AssetInfo {
    if (/\.(ttf|otf)$/i.test(name)) {
      const font = new Font(bytes, name)
      return { kind: 'font', family: font.family, style: font.style }
    }
    const header = readImageHeader(bytes, name)
    return { kind: 'picture', width: header.width, height: header.height, type: `image/${header.kind}` }
  }

  add(bytes: Uint8Array, name: string): Asset {
    const info = this.inspect(bytes, name)
    const sha256 = this.files.put(bytes)
    this.record(sha256, info.kind, name, bytes.length, info)
    return { ...info, sha256, name, size: bytes.length }
  }

  /** Keeps a published document among the files. */
  addDocument(text: string, name: string): string {
    const sha256 = this.files.put(text)
    this.record(sha256, 'document', name, text.length, {})
    return sha256
  }

  private record(sha256: string, kind: string, name: string, size: number, info: object): void {
    this.db
      .prepare('INSERT INTO assets (sha256, kind, name, size, info) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING')
      .run(sha256, kind, name, size, JSON.stringify(info))
  }

  find(sha256: string): { kind: string; info: Record<string, unknown> } | undefined {
    const row = this.db.prepare('SELECT kind, info FROM assets WHERE sha256 = ?').get(sha256) as
      | { kind: string; info: string }
      | undefined
    return row && { kind: row.kind, info: JSON.parse(row.info) }
  }
}
