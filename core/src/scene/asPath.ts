import { outlinesOf, parsePathData } from '../path/index.ts'
import { fullStyle, type Part, propertiesOf, type StyleValues } from '../template/index.ts'
import { ellipsePath, leaningBoxPath } from './shapes.ts'

/** A box or an ellipse of a size (px, before its own scale) as a path of the same shape, place, style and motion. */
export function asPath(part: Part, width: number, height: number): Part {
  if (part.kind !== 'box' && part.kind !== 'ellipse') return part
  const style = fullStyle(part.kind, part.style as never) as unknown as StyleValues<'box'>
  const d =
    part.kind === 'ellipse'
      ? ellipsePath(0, 0, width, height)
      : leaningBoxPath(
          0,
          0,
          width,
          height,
          [style.radiusTopLeft, style.radiusTopRight, style.radiusBottomRight, style.radiusBottomLeft],
          style.leanLeft,
          style.leanRight,
        )
  const kept = new Set(propertiesOf('path').map(([key]) => key))
  const own = Object.fromEntries(Object.entries(part.style).filter(([key]) => kept.has(key)))
  const outlines = outlinesOf(parsePathData(d), { x: 0, y: 0, width, height })
  return { ...part, kind: 'path', style: { ...own, outlines } } as Part
}
