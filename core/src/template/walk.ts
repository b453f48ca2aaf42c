import type { FontFile, MediaFile, Part, PartId, SoundFile, Template } from './types.ts'
import type { Run } from './values.ts'

/** Every part in painting order, groups before what they hold. */
export function allParts(parts: readonly Part[]): Part[] {
  return parts.flatMap((part) => (part.parts ? [part, ...allParts(part.parts)] : [part]))
}

export function findPart(template: Template, id: PartId): Part | undefined {
  return allParts(template.parts).find((part) => part.id === id)
}

/** The list that holds a part, and its place there. */
export function placeOf(parts: Part[], id: PartId): { list: Part[]; index: number } | undefined {
  const index = parts.findIndex((part) => part.id === id)
  if (index >= 0) return { list: parts, index }
  for (const part of parts) {
    const found = part.parts && placeOf(part.parts, id)
    if (found) return found
  }
  return undefined
}

/** Parts as the parts list numbers them: 1 is painted last and so lies on top. */
export function numberedParts(template: Template): { part: Part; number: number; depth: number }[] {
  const rows: { part: Part; number: number; depth: number }[] = []
  const visit = (parts: readonly Part[], depth: number) => {
    for (const part of [...parts].reverse()) {
      rows.push({ part, number: rows.length + 1, depth })
      if (part.parts) visit(part.parts, depth + 1)
    }
  }
  visit(template.parts, 0)
  return rows
}

export function runsOf(part: Part): Run[] {
  return part.kind === 'text' ? (part.style.content ?? []) : []
}

/** Every file that travels with a template. */
export function carriedBy(
  template: Pick<Template, 'fonts' | 'media' | 'sounds'>,
): (FontFile | MediaFile | SoundFile)[] {
  return [...template.fonts, ...template.media, ...template.sounds]
}
