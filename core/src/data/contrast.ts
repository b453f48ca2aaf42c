import { bytesOf, contrastRatio, hexOf } from '../colour/index.ts'
import { boxOf } from '../layout/index.ts'
import { type Layout, styleOf } from '../scene/index.ts'
import type { Fill } from '../template/index.ts'
import { inkOf } from '../text/index.ts'

/** Red, green and blue from 0 to 255, alpha from 0 to 1. */
type Rgba = [r: number, g: number, b: number, a: number]

function read(colour: string): Rgba {
  const [r, g, b, a] = bytesOf(colour)
  return [r, g, b, a / 255]
}

const hex = ([r, g, b]: Rgba) => hexOf(r, g, b)

/** One colour laid over another that is opaque. */
function over(top: Rgba, opacity: number, below: Rgba): Rgba {
  const a = top[3] * opacity
  return [0, 1, 2].map((i) => top[i]! * a + below[i]! * (1 - a)).concat(1) as Rgba
}

/** The least that WCAG 2.2, 1.4.3 asks of a text: 3 for large ones (24 px and more), else 4.5; px at 1080 lines. */
export function leastContrast(size: number, frameHeight: number): number {
  return (size * 1080) / frameHeight >= 24 ? 3 : 4.5
}

/** Share of a surface's opacity from which what lies below it hardly shows. */
const hiding = 0.85

/** The colours of a surface's fill; undefined when it is a picture, or none. */
function coloursOf(fill: Fill): Rgba[] | undefined {
  if (fill === null) return undefined
  if (typeof fill === 'string') return [read(fill)]
  return fill.kind === 'picture' ? undefined : fill.stops.map((stop) => read(stop.colour))
}

/**
 * The worst contrast of a settled text against the surfaces that lie behind it: the box painted last before it that
 * covers its ink and hides what is below. Undefined when the text stands on the footage or on a picture: nobody knows
 * what that will be.
 */
export function textContrast(
  layout: Layout,
  index: number,
): { ratio: number; text: string; behind: string } | undefined {
  const { rest, content, blocks } = layout
  const block = blocks[index]
  if (!block || rest.gone[index]) return undefined
  const own = boxOf(rest, index)
  const ink = inkOf(block.glyphs)
  const shown = block.boxes[styleOf(content, index, 'text').shows as 'line']
  const area = { x: own.x + ink.x - shown.x, y: own.y + ink.y - shown.y, width: ink.width, height: ink.height }
  let behind: Rgba[] | undefined
  for (let j = 0; j < index; j++) {
    const style = content.styles[j]!
    if (rest.gone[j] || style.matteOnly || style.kind === 'text' || style.kind === 'group' || style.kind === 'curve')
      continue
    const box = boxOf(rest, j)
    const slack = 1
    const covers =
      box.x <= area.x + slack &&
      box.y <= area.y + slack &&
      box.x + box.width >= area.x + area.width - slack &&
      box.y + box.height >= area.y + area.height - slack
    if (!covers) continue
    const { opacity } = style
    const colours = style.kind === 'box' ? coloursOf(style.fill) : undefined
    if (!colours) {
      if (style.kind === 'picture' || (style.fill && typeof style.fill === 'object')) behind = undefined
      continue
    }
    const below = behind
    const hides = colours.every((colour) => colour[3] * opacity >= hiding)
    if (below) behind = colours.flatMap((colour) => below.map((one) => over(colour, opacity, one)))
    else behind = hides ? colours.map((colour) => over(colour, opacity, [128, 128, 128, 1])) : undefined
  }
  if (!behind) return undefined
  const fill = coloursOf(styleOf(content, index, 'text').fill)
  const texts = fill ?? [...new Set(block.glyphs.map((glyph) => glyph.colour))].map(read)
  let worst: { ratio: number; text: string; behind: string } | undefined
  for (const text of texts)
    for (const below of behind) {
      const seen = hex(over(text, content.styles[index]!.opacity, below))
      const ratio = contrastRatio(seen, hex(below))
      if (!worst || ratio < worst.ratio) worst = { ratio, text: seen, behind: hex(below) }
    }
  return worst
}
