import type { Template } from '../template/index.ts'
import type { Finding } from './finding.ts'
import { plain, Slips } from './slips.ts'
import { givenText, type Match } from './source.ts'
import type { Row } from './table.ts'

/** How names, roles and companies are spelled, by somebody who knows. */
export class KnownNames {
  private readonly spellings = new Map<string, string>()
  private readonly slips = new Slips()

  /** @param texts as they are spelled; the first of two that differ in capitals alone is the one that is known */
  constructor(texts: Iterable<string>) {
    for (const text of texts) this.add(text)
  }

  add(text: string): void {
    const name = plain(text)
    if (name === '' || this.spellings.has(name)) return
    this.spellings.set(name, text.trim())
    this.slips.add(name)
  }

  get count(): number {
    return this.spellings.size
  }

  /** The known spelling that a text differs from by a slip; undefined for one that is known, or like none. */
  meant(text: string): string | undefined {
    const name = plain(text)
    if (this.spellings.has(name)) return undefined
    const [near] = this.slips.of(name)
    return near === undefined ? undefined : this.spellings.get(near)
  }
}

/** What a row spells otherwise than the known names, by a slip. */
export function checkKnown(known: KnownNames, template: Template, match: Match, row: Row, n: number): Finding[] {
  if (known.count === 0) return []
  return template.fields.flatMap((field): Finding[] => {
    const text = field.type === 'text' ? givenText(match, field.key, row).text : undefined
    const meant = text && known.meant(text)
    if (!meant) return []
    return [
      {
        row: n,
        field: field.key,
        level: 'look',
        code: 'known',
        message: `${field.name} is nearly "${meant}", as the known names have it; a slip?`,
        fix: meant,
      },
    ]
  })
}
