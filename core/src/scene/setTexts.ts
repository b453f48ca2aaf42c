import { cached, LastFew } from '../cache/index.ts'
import {
  type Block,
  type BlockStyle,
  type Font,
  type Shape,
  type StyledRun,
  setText,
  shapeText,
} from '../text/index.ts'

/** Texts that are kept shaped: while a designer drags, every step is a new drawing of the same words. */
const keep = 300

const names = new WeakMap<Font, number>()
let named = 0

/** A short name for a loaded font: two fonts may bear the same family and style. */
function nameOf(font: Font): number {
  return cached(names, font, () => ++named)
}

const shapes = new LastFew<string, Shape>(keep)

/** `shapeText`, remembering what was shaped last. */
export function shapedOnce(runs: StyledRun[], fallbacks: readonly Font[], direction?: 'ltr' | 'rtl'): Shape {
  let key = `${direction ?? ''}${fallbacks.map(nameOf).join()}`
  for (const { text, font, size, tracking, colour, features, language } of runs)
    key += `|${nameOf(font)},${size},${tracking},${colour},${features?.join('.') ?? ''},${language ?? ''},${text.length},${text}`
  return cached(shapes, key, () => shapeText(runs, fallbacks, direction))
}

/** Texts shaped last, by the index of their part: a row's words are shaped once for all shapes of the frame. */
export class LastShaped {
  private readonly last: (Shape | undefined)[] = []

  /** `shapeText`, or what it gave the last time, where the same stands in the part. */
  shape(index: number, runs: StyledRun[], fallbacks: readonly Font[], direction?: 'ltr' | 'rtl'): Shape {
    const known = this.last[index]
    if (known && known.direction === direction && known.runs.length === runs.length) {
      const isSame = known.runs.every((run, i) => areAlike(run, runs[i]!))
      if (isSame && known.fallbacks.every((font, i) => font === fallbacks[i])) return known
    }
    const made = shapeText(runs, fallbacks, direction)
    this.last[index] = made
    return made
  }
}

const areAlike = (a: StyledRun, b: StyledRun): boolean =>
  a.text === b.text &&
  a.font === b.font &&
  a.size === b.size &&
  a.tracking === b.tracking &&
  a.colour === b.colour &&
  a.language === b.language &&
  (a.features === b.features || a.features?.join() === b.features?.join())

const blocks = new WeakMap<Shape, LastFew<string, Block>>()
const fits = new WeakMap<BlockStyle['fit'], string>()

/** Fit steps as a key; a drawing's own list of them is the same one for every filling. */
function fitKey(fit: BlockStyle['fit']): string {
  return cached(fits, fit, () => JSON.stringify(fit))
}

/** `setText`, remembering for each shaped text the last rooms it was set in. */
export function setOnce(shape: Shape, style: BlockStyle): Block {
  const known = cached(blocks, shape, () => new LastFew<string, Block>(8))
  const key = `${style.room},${style.height},${style.most},${style.leading},${style.align},${style.breaks},${fitKey(style.fit)}`
  return cached(known, key, () => setText(shape, style))
}
