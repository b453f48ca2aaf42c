import type { PlacedGlyph } from './block.ts'

/** Coordinates are rounded to 1/128 px, the grid that painting keeps (`paint/matrix.ts`): the same text everywhere. */
const short = (value: number) => String(Math.round(value * 128) / 128)

/** The outlines of placed glyphs as one SVG path (px, y down), to be filled by the non-zero rule. */
export function outlinePath(glyphs: readonly PlacedGlyph[]): string {
  let path = ''
  for (const g of glyphs) {
    const sx = g.scaleX / g.font.unitsPerEm
    const sy = -g.scaleY / g.font.unitsPerEm
    for (const step of g.font.outline(g.id)) {
      path += step.type
      for (let i = 0; i < step.values.length; i += 2)
        path += `${i ? ' ' : ''}${short(g.x + step.values[i]! * sx)} ${short(g.y + step.values[i + 1]! * sy)}`
    }
  }
  return path
}
