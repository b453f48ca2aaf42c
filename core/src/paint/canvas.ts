import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { gaussian } from './blur.ts'
import { blurReach, boundsOf, grown, pixelRegion } from './bounds.ts'
import type { Brush, DrawList, Item, LayerItem, PathItem, PictureItem } from './drawList.ts'
import { gridded, identity, lengthFactor, type Matrix, multiply, scaling, translation } from './matrix.ts'
import type { Pixels } from './picture.ts'

/** The part of Canvas 2D that painting needs; the browser's and the server's both have it. */
export interface Context {
  setTransform(a: number, b: number, c: number, d: number, e: number, f: number): void
  fill(path: never): void
  stroke(path: never): void
  save(): void
  restore(): void
  clearRect(x: number, y: number, width: number, height: number): void
  fillRect(x: number, y: number, width: number, height: number): void
  drawImage(image: never, x: number, y: number, width: number, height: number): void
  createLinearGradient(x0: number, y0: number, x1: number, y1: number): Gradient
  createRadialGradient(x0: number, y0: number, r0: number, x1: number, y1: number, r1: number): Gradient
  getImageData(x: number, y: number, width: number, height: number, settings?: object): { data: Uint8ClampedArray }
  putImageData(data: never, x: number, y: number): void
  globalAlpha: number
  globalCompositeOperation: string
  fillStyle: unknown
  strokeStyle: unknown
  lineWidth: number
  lineCap: string
  lineJoin: string
  miterLimit: number
  setLineDash(lengths: number[]): void
  /** CSS filter functions; only `blur` is used. */
  filter: string
  shadowBlur: number
  shadowColor: string
  shadowOffsetX: number
  shadowOffsetY: number
}
interface Gradient {
  addColorStop(at: number, colour: string): void
}
export interface Surface {
  canvas: unknown
  context: Context
  width: number
  height: number
}

/** What differs between browser and server: making surfaces, paths and pictures. */
export interface RasterBackend {
  /** A cleared surface of at least CPU-readable kind (software raster on both sides, so that bytes agree). */
  surface(width: number, height: number): Surface
  path(d: string): unknown
  image(pixels: Pixels): unknown
  /**
   * Surfaces of more than 8 bits a channel, for outputs that keep more. How their pixels are read and put: premultiplied,
   * 0 to 1.
   */
  deep?: {
    read(surface: Surface): Float32Array
    write(surface: Surface, pixels: Float32Array): void
    /** How much is seen of each pixel. */
    alpha(surface: Surface): Float32Array
    /** A colour, and of each pixel how much of it. */
    fillUnder(surface: Surface, alpha: Float32Array, colour: string): void
  }
}

/** Paths and pictures that a backend keeps: enough for a title's frames, few enough for a long run. */
const keep = 400

/** Wraps a backend so that each path and picture is made once while it is in use, and scratch surfaces are used again. */
export class PaintResources {
  private readonly paths = new LastFew<string, unknown>(keep)
  private readonly images: LastFew<string, unknown>
  private readonly spare: Surface[] = []

  /** @param pictures that are kept at most */
  constructor(
    private readonly backend: RasterBackend,
    pictures = keep,
  ) {
    this.images = new LastFew(pictures)
  }

  path(d: string): never {
    return cached(this.paths, d, () => this.backend.path(d)) as never
  }

  image(pixels: Pixels): never {
    return cached(this.images, pixels.id, () => this.backend.image(pixels)) as never
  }

  surface(width: number, height: number): Surface {
    return this.backend.surface(width, height)
  }

  get deep(): RasterBackend['deep'] {
    return this.backend.deep
  }

  /** A cleared scratch surface at least this large; give it back with `release`. Sizes go in steps, so that the next frame's fits too. */
  scratch(least: number, leastHeight: number): Surface {
    const [width, height] = [Math.ceil(least / 64) * 64, Math.ceil(leastHeight / 64) * 64]
    const at = this.spare.findIndex((s) => s.width === width && s.height === height)
    if (at < 0) return this.surface(width, height)
    const [surface] = this.spare.splice(at, 1)
    surface!.context.setTransform(...identity)
    surface!.context.clearRect(0, 0, width, height)
    return surface!
  }

  release(surface: Surface): void {
    if (this.spare.length >= 6) this.spare.shift()
    this.spare.push(surface)
  }
}

export interface PaintOptions {
  /** Top left of what is painted, in frame px. */
  x?: number
  y?: number
  /** Surface px per frame px. */
  scale?: number
  /** Nothing is left of what lies outside a frame of this size, px: for a view that is larger than the frame. */
  frame?: { width: number; height: number }
}

/** Paints a draw list onto a surface, over what is there. */
export function paint(list: DrawList, surface: Surface, resources: PaintResources, options: PaintOptions = {}): void {
  const scale = options.scale ?? 1
  const matrix = multiply(scaling(scale), translation(-(options.x ?? 0), -(options.y ?? 0)))
  const { context } = surface
  context.save()
  for (const item of list.items) paintItem(item, surface, resources, matrix, 1)
  if (options.frame) clearBeside(options.frame, surface, options, scale)
  context.restore()
}

function clearBeside(
  frame: { width: number; height: number },
  { context, width, height }: Surface,
  { x = 0, y = 0 }: PaintOptions,
  scale: number,
): void {
  context.setTransform(...identity)
  const [left, top] = [Math.max(0, -x * scale), Math.max(0, -y * scale)]
  const [right, bottom] = [(frame.width - x) * scale, (frame.height - y) * scale]
  if (left > 0) context.clearRect(0, 0, left, height)
  if (right < width) context.clearRect(right, 0, width - right, height)
  if (top > 0) context.clearRect(0, 0, width, top)
  if (bottom < height) context.clearRect(0, bottom, width, height - bottom)
}

function paintItem(item: Item, surface: Surface, resources: PaintResources, matrix: Matrix, alpha: number): void {
  if (alpha <= 0) return
  if (item.kind === 'layer') paintLayer(item, surface, resources, matrix, alpha)
  else if (item.kind === 'path') paintPath(item, surface, resources, matrix, alpha)
  else paintPicture(item, surface, resources, matrix, alpha)
}

/** Whether opacity can be given to what an item draws without its own overlaps showing through. */
function isFlat(item: Item): boolean {
  if (item.kind === 'path') return !item.shadows?.length && !(item.fill && item.stroke)
  if (item.kind === 'picture') return true
  return !isApart(item) && item.items.length === 1 && isFlat(item.items[0]!)
}

/** A layer that meets what lies below as one picture, not item by item. */
function isApart(layer: LayerItem): boolean {
  return !!(layer.clip || layer.matte || layer.soft || layer.blur || layer.blend)
}

function paintLayer(layer: LayerItem, surface: Surface, resources: PaintResources, outer: Matrix, alpha: number): void {
  const matrix = multiply(outer, layer.matrix)
  const opacity = alpha * layer.opacity
  if (opacity <= 0 || layer.items.length === 0) return
  const apart = isApart(layer) || (opacity < 1 && !(layer.items.length === 1 && isFlat(layer.items[0]!)))
  if (!apart) for (const item of layer.items) paintItem(item, surface, resources, matrix, opacity)
  else paintApart(layer, surface, resources, outer, opacity)
}

/** A layer that must be whole before it meets what lies below: drawn on a scratch surface just large enough, then laid over. */
function paintApart(
  layer: LayerItem,
  surface: Surface,
  resources: PaintResources,
  outer: Matrix,
  opacity: number,
): void {
  const bounds = boundsOf(layer.items, multiply(outer, layer.matrix))
  const touched = layer.blur
    ? blurredRegion(bounds, blurReach(layer.blur, outer), surface)
    : pixelRegion(bounds, surface.width, surface.height)
  if (!touched) return
  const { context } = surface
  let own = resources.scratch(touched.width, touched.height)
  const moved = multiply(translation(-touched.x, -touched.y), outer)
  const matrix = multiply(moved, layer.matrix)
  for (const item of layer.items) paintItem(item, own, resources, matrix, 1)
  if (layer.blur) own = blurred(own, layer.blur * lengthFactor(outer), resources)
  if (layer.clip) cutTo(layer.clip, own, resources, matrix)
  if (layer.soft) softenEdge(layer.soft, own, matrix)
  if (layer.matte) applyMatte(layer.matte, own, resources, moved)
  context.setTransform(...identity)
  context.globalAlpha = opacity
  if (layer.blend) context.globalCompositeOperation = layer.blend
  context.drawImage(own.canvas as never, touched.x, touched.y, own.width, own.height)
  context.globalCompositeOperation = 'source-over'
  context.globalAlpha = 1
  resources.release(own)
}

/** What a blur needs to be the same in a region as in the whole frame: also what lies just outside and is drawn in. */
function blurredRegion(bounds: Box | undefined, reach: number, surface: Surface): Box | undefined {
  if (!bounds) return undefined
  const wide = grown(bounds, reach)
  const margin = Math.ceil((2 * reach) / 8) * 8
  const shifted = { ...wide, x: wide.x + margin, y: wide.y + margin }
  const region = pixelRegion(shifted, surface.width + 2 * margin, surface.height + 2 * margin)
  return region && { ...region, x: region.x - margin, y: region.y - margin }
}

/** The same picture, blurred, on another scratch surface. */
function blurred(own: Surface, deviation: number, resources: PaintResources): Surface {
  if (resources.deep) {
    const pixels = resources.deep.read(own)
    gaussian(pixels, own.width, own.height, deviation)
    resources.deep.write(own, pixels)
    return own
  }
  const target = resources.scratch(own.width, own.height)
  target.context.filter = `blur(${deviation}px)`
  target.context.drawImage(own.canvas as never, 0, 0, own.width, own.height)
  target.context.filter = 'none'
  resources.release(own)
  return target
}

/**
 * Keeps what lies inside an outline. Not by the canvas's own clip: glyphs filled under one come out a level apart in
 * browser and server; laid under a mask they come out the same.
 */
function cutTo(clip: string, own: Surface, resources: PaintResources, matrix: Matrix): void {
  const mask = resources.scratch(own.width, own.height)
  mask.context.setTransform(...gridded(matrix))
  mask.context.fillStyle = '#000000'
  mask.context.fill(resources.path(clip))
  keepUnder(mask, own, 'destination-in')
  resources.release(mask)
}

function keepUnder(mask: Surface, own: Surface, how: 'destination-in' | 'destination-out'): void {
  own.context.setTransform(...identity)
  own.context.globalCompositeOperation = how
  own.context.drawImage(mask.canvas as never, 0, 0, mask.width, mask.height)
  own.context.globalCompositeOperation = 'source-over'
}

function softenEdge(soft: NonNullable<LayerItem['soft']>, own: Surface, matrix: Matrix): void {
  const { context } = own
  context.setTransform(...gridded(matrix))
  const gradient = context.createLinearGradient(soft.x0, soft.y0, soft.x1, soft.y1)
  gradient.addColorStop(0, '#000000ff')
  gradient.addColorStop(1, '#00000000')
  context.globalCompositeOperation = 'destination-in'
  context.fillStyle = gradient
  const far = 1e5
  context.fillRect(-far, -far, 2 * far, 2 * far)
  context.globalCompositeOperation = 'source-over'
}

/** A matte's items stand in the coordinates outside the layer it cuts, where its own ties and motion put it. */
function applyMatte(
  matte: NonNullable<LayerItem['matte']>,
  own: Surface,
  resources: PaintResources,
  outer: Matrix,
): void {
  const mask = resources.scratch(own.width, own.height)
  for (const item of matte.items) paintItem(item, mask, resources, outer, 1)
  if (matte.by === 'luminance') luminanceToAlpha(mask, resources)
  keepUnder(mask, own, matte.invert ? 'destination-out' : 'destination-in')
  resources.release(mask)
}

/** Rec. 709 luma of the sRGB bytes, times alpha, becomes alpha; in whole numbers, so that it is the same everywhere. */
function luminanceToAlpha(mask: Surface, { deep }: PaintResources): void {
  if (deep) {
    const pixels = deep.read(mask)
    // Premultiplied already: the luma of what is seen.
    for (let i = 0; i < pixels.length; i += 4)
      pixels.fill(pixels[i]! * 0.2126 + pixels[i + 1]! * 0.7152 + pixels[i + 2]! * 0.0722, i, i + 4)
    deep.write(mask, pixels)
    return
  }
  const image = mask.context.getImageData(0, 0, mask.width, mask.height)
  const { data } = image
  for (let i = 0; i < data.length; i += 4) {
    const luma = (data[i]! * 2126 + data[i + 1]! * 7152 + data[i + 2]! * 722 + 5000) / 10000
    data[i + 3] = Math.floor((Math.floor(luma) * data[i + 3]! + 127) / 255)
  }
  mask.context.putImageData(image as never, 0, 0)
}

function brushOf(brush: Brush, context: Context): unknown {
  if (typeof brush === 'string') return brush
  const gradient =
    brush.kind === 'linear'
      ? context.createLinearGradient(brush.x0, brush.y0, brush.x1, brush.y1)
      : context.createRadialGradient(brush.x, brush.y, 0, brush.x, brush.y, brush.radius)
  for (const [at, colour] of brush.stops) gradient.addColorStop(at, colour)
  return gradient
}

type Shadow = NonNullable<PathItem['shadows']>[number]

/** How far away a shape is put when only its shadow is wanted: off any surface, and exact in single precision. */
const faraway = 1 << 14

function paintPath(item: PathItem, surface: Surface, resources: PaintResources, matrix: Matrix, alpha: number): void {
  const { context } = surface
  const path = resources.path(item.d)
  context.globalAlpha = alpha
  if (item.fill) context.fillStyle = brushOf(item.fill, context)
  if (item.stroke) {
    context.strokeStyle = brushOf(item.stroke.brush, context)
    context.lineWidth = item.stroke.width
    context.lineCap = item.stroke.cap ?? 'butt'
    context.lineJoin = item.stroke.join ?? 'miter'
    context.miterLimit = 4
    context.setLineDash(item.stroke.dash ? [item.stroke.dash, item.stroke.dash] : [])
  }
  const body = item.fill || !item.stroke ? ('fill' as const) : ('stroke' as const)
  if (resources.deep)
    for (const shadow of [...(item.shadows ?? [])].reverse()) castDeep(item, shadow, surface, resources, matrix, alpha)
  // The first shadow is drawn with the shape; those below it by a shape too far away to be seen.
  const [first, ...below] = (!resources.deep && item.shadows) || []
  for (const shadow of below.reverse()) {
    castShadow(context, shadow, matrix, -faraway)
    context.setTransform(...gridded(multiply(translation(faraway, 0), matrix)))
    context[body](path)
  }
  context.setTransform(...gridded(matrix))
  if (first) castShadow(context, first, matrix, 0)
  if (item.fill) context.fill(path)
  if (first && body === 'fill') context.shadowColor = '#00000000'
  if (item.stroke) context.stroke(path)
  if (first) context.shadowColor = '#00000000'
  context.globalAlpha = 1
}

/** A shadow in more than 8 bits: the shape in the shadow's colour, blurred by itself, then laid where the shadow falls. */
function castDeep(
  item: PathItem,
  shadow: Shadow,
  surface: Surface,
  resources: PaintResources,
  matrix: Matrix,
  alpha: number,
): void {
  const k = lengthFactor(matrix)
  // Canvas 2D's blur is two standard deviations.
  const deviation = (shadow.blur * k) / 2
  const { shadows: _, ...bare } = item
  const moved = multiply(translation(shadow.x * k, shadow.y * k), matrix)
  const touched = blurredRegion(boundsOf([bare], moved), Math.ceil(3 * deviation) + 2, surface)
  if (!touched) return
  const own = resources.scratch(touched.width, touched.height)
  paintPath(bare, own, resources, multiply(translation(-touched.x, -touched.y), moved), 1)
  // Only how much is seen is blurred; the colour is one.
  const seen = resources.deep!.alpha(own)
  gaussian(seen, own.width, own.height, deviation, 1)
  resources.deep!.fillUnder(own, seen, shadow.colour)
  const { context } = surface
  context.setTransform(...identity)
  context.globalAlpha = alpha
  context.drawImage(own.canvas as never, touched.x, touched.y, own.width, own.height)
  resources.release(own)
}

/** Canvas shadows ignore the transform, so their lengths are brought to the surface here. */
function castShadow(context: Context, shadow: Shadow, matrix: Matrix, shift: number): void {
  const k = lengthFactor(matrix)
  context.shadowColor = shadow.colour
  context.shadowBlur = shadow.blur * k
  context.shadowOffsetX = shadow.x * k + shift
  context.shadowOffsetY = shadow.y * k
}

function paintPicture(
  item: PictureItem,
  surface: Surface,
  resources: PaintResources,
  matrix: Matrix,
  alpha: number,
): void {
  const { context } = surface
  context.setTransform(...gridded(matrix))
  context.globalAlpha = alpha
  context.drawImage(resources.image(item.pixels), item.bounds.x, item.bounds.y, item.bounds.width, item.bounds.height)
  context.globalAlpha = 1
}
