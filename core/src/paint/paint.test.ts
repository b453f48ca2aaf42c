import { createCanvas, loadImage } from '@napi-rs/canvas'
import fc from 'fast-check'
import { writePng } from '../formats/index.ts'
import { Scene } from '../scene/index.ts'
import { blendModes } from '../template/index.ts'
import { drawn, resources } from '../testing/raster.ts'
import { assets, speaker } from '../testing/speaker.ts'
import {
  aboutPoint,
  apply,
  type DrawList,
  gridded,
  type Item,
  identity,
  lengthFactor,
  type Matrix,
  mapBounds,
  multiply,
  onGrid,
  type PathItem,
  paint,
  paintSvg,
  pixelRegion,
  rotationMatrix,
  scaling,
  translation,
  unite,
} from './index.ts'

const square = (x: number, y: number, size: number, fill: string): Item => ({
  kind: 'path',
  d: `M${x} ${y}h${size}v${size}h${-size}Z`,
  bounds: { x, y, width: size, height: size },
  fill,
})
const layer = (items: Item[], more: object = {}): Item => ({
  kind: 'layer',
  matrix: identity,
  opacity: 1,
  items,
  ...more,
})
function draw(items: Item[], width = 40, height = 40, options = {}) {
  return drawn({ width, height, items }, options)
}

test('items are painted in order, over what is there', () => {
  const at = draw([square(0, 0, 20, '#ff0000'), square(10, 10, 20, '#0000ff')])
  expect(at(5, 5)).toEqual([255, 0, 0, 255])
  expect(at(15, 15)).toEqual([0, 0, 255, 255])
  expect(at(35, 35)).toEqual([0, 0, 0, 0])
})

test('a faded layer is one thing: overlaps inside it do not show through', () => {
  const at = draw([layer([square(0, 0, 20, '#ff0000'), square(10, 10, 20, '#0000ff')], { opacity: 0.5 })])
  expect(at(15, 15)).toEqual([0, 0, 255, 128])
  expect(at(5, 5)).toEqual([255, 0, 0, 128])
  const flat = draw([layer([square(0, 0, 20, '#ff0000')], { opacity: 0.5 })])
  expect(flat(5, 5)).toEqual([255, 0, 0, 128])
})

test('mattes cut by alpha, inverted, and by luminance', () => {
  const mask = [square(0, 0, 20, '#ffffff'), square(20, 0, 20, '#000000')]
  const cut = (by: 'alpha' | 'luminance', invert: boolean) =>
    draw([layer([square(0, 0, 40, '#00ff00')], { matte: { items: mask, by, invert } })])
  expect([cut('alpha', false)(5, 5)[3], cut('alpha', false)(25, 5)[3], cut('alpha', false)(5, 30)[3]]).toEqual([
    255, 255, 0,
  ])
  expect([cut('alpha', true)(5, 5)[3], cut('alpha', true)(5, 30)[3]]).toEqual([0, 255])
  expect([cut('luminance', false)(5, 5)[3], cut('luminance', false)(25, 5)[3]]).toEqual([255, 0])
  // Rec. 709 luma of pure green is 0.7152 (ITU-R BT.709, item 3.2).
  const green = draw([
    layer([square(0, 0, 40, '#ffffff')], {
      matte: { items: [square(0, 0, 40, '#00ff00')], by: 'luminance', invert: false },
    }),
  ])
  expect(green(5, 5)[3]).toBe(Math.round(0.7152 * 255))
})

test('a clip is hard, a soft edge runs from all to nothing', () => {
  const clipped = draw([layer([square(0, 0, 40, '#ffffff')], { clip: 'M0 0H20V40H0Z' })])
  expect([clipped(19, 5)[3], clipped(20, 5)[3]]).toEqual([255, 0])
  const soft = draw([layer([square(0, 0, 40, '#ffffff')], { soft: { x0: 10, y0: 0, x1: 30, y1: 0 } })])
  expect(soft(5, 5)[3]).toBe(255)
  expect(soft(35, 5)[3]).toBe(0)
  expect(Math.abs(soft(19, 5)[3]! - 134)).toBeLessThan(8)
})

const shadowed = (item: Item, shadows: NonNullable<PathItem['shadows']>): Item => ({ ...(item as PathItem), shadows })

test('several shadows lie one below the other, the first on top, all below the shape', () => {
  const at = draw([
    shadowed(square(10, 10, 10, '#ffffff'), [
      { x: 5, y: 0, blur: 0, colour: '#ff0000' },
      { x: 10, y: 0, blur: 0, colour: '#0000ff' },
      { x: 0, y: 15, blur: 0, colour: '#00ff0080' },
    ]),
  ])
  expect(at(12, 12)).toEqual([255, 255, 255, 255])
  expect(at(22, 12)).toEqual([255, 0, 0, 255])
  expect(at(27, 12)).toEqual([0, 0, 255, 255])
  expect(at(12, 30)).toEqual([0, 255, 0, 128])
})

test('a blurred layer spreads what it holds and keeps its sum; a region of it is the same bytes', () => {
  const blurredSquare = layer([square(16, 16, 8, '#ffffff')], { blur: 3 })
  const at = draw([blurredSquare])
  expect(at(20, 20)[3]).toBeLessThan(255)
  expect(at(12, 20)[3]).toBeGreaterThan(0)
  let sum = 0
  for (let y = 0; y < 40; y++) for (let x = 0; x < 40; x++) sum += at(x, y)[3]!
  expect(Math.abs(sum / 255 - 64)).toBeLessThan(2)
  const region = draw([blurredSquare], 16, 16, { x: 16, y: 16 })
  for (let y = 0; y < 16; y++) for (let x = 0; x < 16; x++) expect(region(x, y)).toEqual(at(x + 16, y + 16))
})

type Rgb = [number, number, number]
const lum = ([r, g, b]: Rgb) => 0.3 * r + 0.59 * g + 0.11 * b
const clipColour = (c: Rgb): Rgb => {
  const [l, low, high] = [lum(c), Math.min(...c), Math.max(...c)]
  let out = c
  if (low < 0) out = out.map((v) => l + ((v - l) * l) / (l - low)) as Rgb
  if (high > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (high - l)) as Rgb
  return out
}
const setLum = (c: Rgb, l: number) => clipColour(c.map((v) => v + l - lum(c)) as Rgb)
const sat = (c: Rgb) => Math.max(...c) - Math.min(...c)
const setSat = (c: Rgb, s: number): Rgb => {
  const [low, high] = [Math.min(...c), Math.max(...c)]
  return (high > low ? c.map((v) => ((v - low) * s) / (high - low)) : [0, 0, 0]) as Rgb
}
const dodge = (b: number, s: number) => (b === 0 ? 0 : s === 1 ? 1 : Math.min(1, b / (1 - s)))
const burn = (b: number, s: number) => (b === 1 ? 1 : s === 0 ? 0 : 1 - Math.min(1, (1 - b) / s))
const hard = (b: number, s: number) => (s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1))
const soft = (b: number, s: number) =>
  s <= 0.5
    ? b - (1 - 2 * s) * b * (1 - b)
    : b + (2 * s - 1) * ((b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)) - b)
const each = (f: (b: number, s: number) => number) => (b: Rgb, s: Rgb) => b.map((v, i) => f(v, s[i]!)) as Rgb
// W3C Compositing and Blending Level 1, chapters 9.1 and 9.2: B(backdrop, source).
const formulas: Record<string, (b: Rgb, s: Rgb) => Rgb> = {
  multiply: each((b, s) => b * s),
  screen: each((b, s) => b + s - b * s),
  overlay: each((b, s) => hard(s, b)),
  darken: each(Math.min),
  lighten: each(Math.max),
  'color-dodge': each(dodge),
  'color-burn': each(burn),
  'hard-light': each(hard),
  'soft-light': each(soft),
  difference: each((b, s) => Math.abs(b - s)),
  exclusion: each((b, s) => b + s - 2 * b * s),
  hue: (b, s) => setLum(setSat(s, sat(b)), lum(b)),
  saturation: (b, s) => setLum(setSat(b, sat(s)), lum(b)),
  color: (b, s) => setLum(s, lum(b)),
  luminosity: (b, s) => setLum(b, lum(s)),
}
const hex = (c: Rgb, alpha = 255) => `#${[...c, alpha].map((v) => v.toString(16).padStart(2, '0')).join('')}`

test.each(Object.keys(formulas))('the blend mode %s follows the W3C formula, opaque and half clear', (mode) => {
  const byte = fc.integer({ min: 0, max: 255 })
  const colour = fc.tuple(byte, byte, byte)
  fc.assert(
    fc.property(colour, colour, fc.constantFrom(255, 128), fc.constantFrom(255, 153), (b, s, ab, as) => {
      const at = draw([square(0, 0, 40, hex(b, ab)), layer([square(0, 0, 40, hex(s, as))], { blend: mode })])(20, 20)
      // Surfaces hold premultiplied bytes, so colours reach the formula as those tell them.
      const held = (c: Rgb, a: number) => c.map((v) => Math.min(1, Math.round((v * a) / 255) / a)) as Rgb
      const [cb, cs] = [held(b, ab), held(s, as)]
      const [alphaB, alphaS] = [ab / 255, as / 255]
      const blended = formulas[mode]!(cb, cs)
      // Chapter 5 and 10: co = as (1 - ab) Cs + as ab B(Cb, Cs) + (1 - as) ab Cb; premultiplied.
      const alpha = alphaS + alphaB - alphaS * alphaB
      cb.forEach((backdrop, i) => {
        const co = alphaS * (1 - alphaB) * cs[i]! + alphaS * alphaB * blended[i]! + (1 - alphaS) * alphaB * backdrop
        expect(Math.abs((at[i]! / 255) * (at[3]! / 255) - co)).toBeLessThan(4 / 255)
      })
      expect(Math.abs(at[3]! / 255 - alpha)).toBeLessThan(2 / 255)
    }),
    { numRuns: 40 },
  )
})

test('the modes that the registry offers are those of the standard', () => {
  expect([...blendModes].sort()).toEqual(['normal', ...Object.keys(formulas)].sort())
})

test('a shadow lies under its own fill, and its lengths follow the scale', () => {
  const item = shadowed(square(10, 10, 10, '#ffffff'), [{ x: 10, y: 0, blur: 0, colour: '#000000ff' }])
  const at = draw([item])
  expect(at(12, 12)).toEqual([255, 255, 255, 255])
  expect(at(25, 12)).toEqual([0, 0, 0, 255])
  const twice = draw([item], 80, 80, { scale: 2 })
  expect(twice(50, 24)).toEqual([0, 0, 0, 255])
  expect(twice(62, 24)[3]).toBe(0)
})

test('a stroke without a fill has a shadow too', () => {
  const at = draw([
    {
      kind: 'path',
      d: 'M5 5H15V15H5Z',
      bounds: { x: 5, y: 5, width: 10, height: 10 },
      stroke: { brush: '#ffffff', width: 2 },
      shadows: [{ x: 20, y: 0, blur: 0, colour: '#ff0000' }],
    },
  ])
  expect(at(5, 10)).toEqual([255, 255, 255, 255])
  expect(at(25, 10)).toEqual([255, 0, 0, 255])
  expect(at(30, 10)[3]).toBe(0)
})

// SVG 2, 8.5: matrices as the standard composes them.
test('maps compose and turn as SVG has them', () => {
  expect(apply(multiply(translation(10, 0), scaling(2)), 3, 4)).toEqual([16, 8])
  const [x, y] = apply(aboutPoint(5, 5, rotationMatrix(90)), 5, 0)
  expect([Math.round(x), Math.round(y)]).toEqual([10, 5])
  expect(lengthFactor(multiply(rotationMatrix(30), scaling(3)))).toBeCloseTo(3, 12)
  const any = fc.tuple(
    ...Array.from({ length: 6 }, () => fc.integer({ min: -9, max: 9 })),
  ) as unknown as fc.Arbitrary<Matrix>
  fc.assert(
    fc.property(
      any,
      any,
      any,
      fc.integer({ min: -50, max: 50 }),
      fc.integer({ min: -50, max: 50 }),
      (a, b, c, px, py) => {
        expect(apply(multiply(a, multiply(b, c)), px, py)).toEqual(apply(multiply(multiply(a, b), c), px, py))
        expect(apply(multiply(a, b), px, py)).toEqual(apply(a, ...apply(b, px, py)))
      },
    ),
  )
})

test('bounds hold every corner; regions begin on the dither’s period and stay in the frame', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -180, max: 180 }),
      fc.double({ min: 0.1, max: 4, noNaN: true }),
      fc.integer({ min: -400, max: 2400 }),
      (angle, scale, x) => {
        const matrix = multiply(translation(x, 40), multiply(rotationMatrix(angle), scaling(scale)))
        const b = mapBounds(matrix, { x: 0, y: 0, width: 30, height: 8 })
        for (const [cx, cy] of [
          [0, 0],
          [30, 0],
          [0, 8],
          [30, 8],
        ] as const) {
          const [px, py] = apply(matrix, cx, cy)
          expect(px).toBeGreaterThanOrEqual(b.x - 1e-9)
          expect(px).toBeLessThanOrEqual(b.x + b.width + 1e-9)
          expect(py).toBeGreaterThanOrEqual(b.y - 1e-9)
          expect(py).toBeLessThanOrEqual(b.y + b.height + 1e-9)
        }
        const region = pixelRegion(b, 1920, 1080)
        if (region) {
          expect([region.x % 8, region.y % 8]).toEqual([0, 0])
          expect(region.x + region.width).toBeLessThanOrEqual(1920)
        }
      },
    ),
  )
  expect(pixelRegion(undefined, 10, 10)).toBeUndefined()
  expect(unite({ x: 0, y: 0, width: 2, height: 2 }, { x: 5, y: 1, width: 1, height: 9 })).toEqual({
    x: 0,
    y: 0,
    width: 6,
    height: 10,
  })
})

test('the grid is a power of two, so whole pixels added to it are exact in single precision', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -4000, max: 4000, noNaN: true }),
      fc.integer({ min: 0, max: 4000 }),
      (value, whole) => {
        const on = onGrid(value)
        expect(Math.abs(on - value)).toBeLessThanOrEqual(1 / 256)
        expect(Math.fround(on) + whole).toBe(Math.fround(on + whole))
        expect(onGrid(on + whole)).toBe(on + whole)
      },
    ),
  )
  expect(gridded([1, 0, 0, 1, 0.3, 7])).toEqual([1, 0, 0, 1, 38 / 128, 7])
})

// Another renderer, the raster library's SVG reader, draws our SVG; colours agree but for edges and the blur of shadows.
test('a frame as SVG looks like the frame on canvas', async () => {
  const scene = new Scene(speaker, assets)
  for (const frame of [8, 40]) {
    const list: DrawList = scene.frame(scene.layout({ mark: 'eel.png' }), scene.timing(scene.layout({})), frame)
    const svg = paintSvg(list, (pixels) => Buffer.from(writePng(pixels)).toString('base64')).replace(
      / filter="[^"]*"/g,
      '',
    )
    const image = await loadImage(Buffer.from(svg))
    const canvas = createCanvas(1920, 1080)
    canvas.getContext('2d').drawImage(image, 0, 0)
    const other = canvas.getContext('2d').getImageData(0, 0, 1920, 1080).data
    const surface = resources.surface(1920, 1080)
    const unshadowed = (items: Item[]): Item[] =>
      items.map(
        (item) =>
          (item.kind === 'layer'
            ? { ...item, items: unshadowed(item.items) }
            : item.kind === 'path'
              ? { ...item, shadows: [] }
              : item) as Item,
      )
    paint({ ...list, items: unshadowed(list.items) }, surface, resources)
    const own = surface.context.getImageData(0, 0, 1920, 1080).data
    let far = 0
    let drawn = 0
    for (let i = 0; i < own.length; i += 4) {
      if (own[i + 3] === 0 && other[i + 3] === 0) continue
      if (own[i + 3]! > 0) drawn++
      const difference = Math.max(
        ...[0, 1, 2, 3].map((k) =>
          Math.abs(own[i + k]! * (k < 3 ? own[i + 3]! / 255 : 1) - other[i + k]! * (k < 3 ? other[i + 3]! / 255 : 1)),
        ),
      )
      if (difference > 24) far++
    }
    expect(drawn).toBeGreaterThan(50_000)
    expect(far / drawn).toBeLessThan(0.02)
  }
})
