import { faceOf, tableIn } from './face.ts'

/** What a font says of itself. */
export interface FontFacts {
  family: string
  style: string
  version: string
  /** Who made it and under which licence, as far as the font says. */
  designer: string
  licence: string
  licenceUrl: string
  /** OS/2 usWeightClass, 1 to 1000; 400 is regular. */
  weight: number
  /** OS/2 usWidthClass, 1 to 9; 5 is normal. */
  width: number
  italic: boolean
  glyphs: number
  /** How many characters it has, and of which scripts. */
  characters: number
  scripts: { name: string; characters: number }[]
  embedding: Embedding
}

export interface Embedding {
  /** The bits as they stand in OS/2 fsType. */
  bits: number
  allows: 'installable' | 'editable' | 'preview' | 'restricted'
  noSubsetting: boolean
  bitmapOnly: boolean
}

/**
 * What the licence bits of a font allow (OpenType specification 1.9.1, OS/2, fsType): bits 0 to 3 say how it may be
 * embedded, none of them: freely. Fonts before OS/2 version 3 may set several; then the least restrictive holds.
 */
export function embeddingOf(bits: number): Embedding {
  return {
    bits,
    allows: bits & 8 ? 'editable' : bits & 4 ? 'preview' : bits & 2 ? 'restricted' : 'installable',
    noSubsetting: (bits & 0x100) !== 0,
    bitmapOnly: (bits & 0x200) !== 0,
  }
}

const scripts = [
  'Latin',
  'Greek',
  'Cyrillic',
  'Arabic',
  'Hebrew',
  'Devanagari',
  'Bengali',
  'Thai',
  'Georgian',
  'Armenian',
  'Hiragana',
  'Katakana',
  'Han',
  'Hangul',
].map((name) => ({ name, pattern: new RegExp(`\\p{Script=${name}}`, 'u') }))
const emoji = /\p{Emoji_Presentation}/u

/** Characters by script, the most first; a few stray ones are left out. */
function scriptsOf(codePoints: Uint32Array): FontFacts['scripts'] {
  const counts = new Map<string, number>()
  for (const codePoint of codePoints) {
    if (codePoint < 0x41) continue
    const character = String.fromCodePoint(codePoint)
    const name = emoji.test(character) ? 'Emoji' : scripts.find((script) => script.pattern.test(character))?.name
    if (name) counts.set(name, (counts.get(name) ?? 0) + 1)
  }
  return [...counts]
    .filter(([, characters]) => characters >= 10)
    .sort(([, a], [, b]) => b - a)
    .map(([name, characters]) => ({ name, characters }))
}

/** Reads what a TrueType or OpenType font says of itself. `bytes` are known to be one. */
export function fontFacts(bytes: Uint8Array): FontFacts {
  const face = faceOf(bytes)
  const name = (...ids: number[]) => ids.map((id) => face.getName(id, 'en')).find(Boolean) ?? ''
  const os2 = tableIn(bytes, 'OS/2')
  const maxp = tableIn(bytes, 'maxp')
  const view = os2 && os2.length >= 64 ? new DataView(os2.buffer, os2.byteOffset, os2.byteLength) : undefined
  const codePoints = face.collectUnicodes()
  return {
    family: name(16, 1),
    style: name(17, 2) || 'Regular',
    version: name(5),
    designer: name(9, 8),
    licence: name(13),
    licenceUrl: name(14),
    weight: view?.getUint16(4) ?? 400,
    width: view?.getUint16(6) ?? 5,
    italic: ((view?.getUint16(62) ?? 0) & 1) !== 0,
    glyphs: maxp && maxp.length >= 6 ? maxp[4]! * 256 + maxp[5]! : 0,
    characters: codePoints.length,
    scripts: scriptsOf(codePoints),
    embedding: embeddingOf(view?.getUint16(8) ?? 0),
  }
}
