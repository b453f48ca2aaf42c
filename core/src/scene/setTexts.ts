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
  const known = names.get(font)
  if (known !== undefined) return known
  names.set(font, ++named)
  return named
}

const shapes = new Map<string, Shape>()

/** `shapeText`, remembering what was shaped last. */
export function shapedOnce(runs: StyledRun[], fallbacks: readonly Font[], direction?: 'ltr' | 'rtl'): Shape {
  let key = `${direction ?? ''}${fallbacks.map(nameOf).join()}`
  for (const { text, font, size, tracking, colour, features, language } of runs)
    key += `|${nameOf(font)},${size},${tracking},${colour},${features?.join('.') ?? ''},${language ?? ''},${text.length},${text}`
  let shape = shapes.get(key)
  if (shape) shapes.delete(key)
  else shape = shapeText(runs, fallbacks, direction)
  // The last asked for stands last, so that the first is the one to let go.
  shapes.set(key, shape)
  if (shapes.size > keep) shapes.delete(shapes.keys().next().value!)
  return shape
}

const blocks = new WeakMap<Shape, Map<string, Block>>()
const fits = new WeakMap<BlockStyle['fit'], string>()

/** Fit steps as a key; a drawing's own list of them is the same one for every filling. */
function fitKey(fit: BlockStyle['fit']): string {
  let key = fits.get(fit)
  if (key === undefined) {
    key = JSON.stringify(fit)
    fits.set(fit, key)
  }
  return key
}

/** `setText`, remembering for each shaped text the last rooms it was set in. */
export function setOnce(shape: Shape, style: BlockStyle): Block {
  const known = blocks.get(shape) ?? new Map<string, Block>()
  blocks.set(shape, known)
  const key = `${style.room},${style.leading},${style.align},${fitKey(style.fit)}`
  let block = known.get(key)
  if (!block) {
    block = setText(shape, style)
    if (known.size >= 8) known.delete(known.keys().next().value!)
    known.set(key, block)
  }
  return block
}
