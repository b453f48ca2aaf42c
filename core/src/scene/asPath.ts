import { outlinesOf, parsePathData } from '../path/index.ts'
import { fullLook, type LookValues, type Part, propertiesOf } from '../template/index.ts'
import { ellipsePath, leaningBoxPath } from './shapes.ts'

/** A box or an ellipse of a size (px, before its own scale) as a path of the same shape, place, look and motion. */
export function asPath(part: Part, width: number, height: number): Part {
  if (part.kind !== 'box' && part.kind !== 'ellipse') return part
  const look = fullLook(part.kind, part.look as never) as unknown as LookValues<'box'>
  const d =
    part.kind === 'ellipse'
      ? ellipsePath(0, 0, width, height)
      : leaningBoxPath(
          0,
          0,
          width,
          height,
          [look.radiusTopLeft, look.radiusTopRight, look.radiusBottomRight, look.radiusBottomLeft],
          look.leanLeft,
          look.leanRight,
        )
  const kept = new Set(propertiesOf('path').map(([key]) => key))
  const own = Object.fromEntries(Object.entries(part.look).filter(([key]) => kept.has(key)))
  const outlines = outlinesOf(parsePathData(d), { x: 0, y: 0, width, height })
  return { ...part, kind: 'path', look: { ...own, outlines } } as Part
}
