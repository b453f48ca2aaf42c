import { cached, LastFew } from '../cache/index.ts'
import type { Font } from './font.ts'
import { type StyledRun, shapeRuns } from './itemize.ts'
import { type Shape, shapeText } from './shape.ts'

const widthAxis = 'wdth'
/** Places on a width axis at which a run is measured; between them its width is taken for even. */
const samples = 8
/** Narrower settings of a text that are kept: the halvings of one fit, so that the last is not shaped again. */
const keep = 14

/** A run at some places on its width axis, from where it stands to the end of that: how wide it is there. */
interface Narrower {
  /** Of the axis, in its own units. */
  at: number
  /** Of what the run's own font draws of it, as a share of its width as it stands. */
  share: number
}

const narrower = new WeakMap<StyledRun, Narrower[]>()
const settings = new WeakMap<Shape, LastFew<number, Shape>>()

/**
 * A text with its glyphs at a share of their own width: by the width axis of a font that has one (`wdth`, OpenType 1.9), and
 * beyond where that ends, as in fonts without it, scaled. Texts whose fonts have none stay as they are: their widths are
 * scaled where they are asked for.
 */
export function narrow(shape: Shape, condense: number): Shape {
  if (condense >= 1 || !shape.runs.some(({ font }) => leastOf(font) !== undefined)) return shape
  const known = cached(settings, shape, () => new LastFew<number, Shape>(keep))
  return cached(known, condense, () => {
    const placed = shape.runs.map((run) => {
      const { at, scale } = placeFor(run, shape.fallbacks, condense)
      return { scale, run: { ...run, font: at === undefined ? run.font : run.font.at({ [widthAxis]: at }) } }
    })
    const narrowed = { runs: placed.map(({ scale }) => scale), others: condense }
    return shapeText(
      placed.map(({ run }) => run),
      shape.fallbacks,
      shape.direction,
      narrowed,
    )
  })
}

/** Where a font's width axis ends; undefined where it has none, or stands there. */
function leastOf(font: Font): number | undefined {
  const axis = font.axes.find(({ tag }) => tag === widthAxis)
  return axis && axis.least < font.standing[widthAxis]! ? axis.least : undefined
}

/** The place on a run's width axis at which it has a share of its own width, and what is left for scaling. */
function placeFor(run: StyledRun, fallbacks: readonly Font[], share: number): { at?: number; scale: number } {
  if (leastOf(run.font) === undefined) return { scale: share }
  const known = cached(narrower, run, () => measured(run, fallbacks))
  const n = known.findIndex((one) => one.share <= share)
  if (n < 0) {
    const end = known.at(-1)!
    return { at: end.at, scale: share / end.share }
  }
  const [above, below] = [known[n - 1]!, known[n]!]
  return { at: above.at + ((above.share - share) / (above.share - below.share)) * (below.at - above.at), scale: 1 }
}

function measured(run: StyledRun, fallbacks: readonly Font[]): Narrower[] {
  const own = run.font.standing[widthAxis]!
  const least = leastOf(run.font)!
  const widthAt = (at: number) => {
    const font = run.font.at({ [widthAxis]: at })
    const { items } = shapeRuns([{ ...run, font }], fallbacks)
    return items
      .filter((item) => item.font === font)
      .reduce((sum, { glyphs }) => sum + glyphs.reduce((all, { advance }) => all + advance, 0), 0)
  }
  const whole = widthAt(own)
  // What other fonts lend has no axis of this one.
  if (whole <= 0) return [{ at: own, share: 1 }]
  const found: Narrower[] = [{ at: own, share: 1 }]
  for (let n = 1; n <= samples; n++) {
    const at = own + ((least - own) * n) / samples
    const share = widthAt(at) / whole
    // An axis that widens again is of no use beyond there.
    if (share < found.at(-1)!.share) found.push({ at, share })
  }
  return found
}
