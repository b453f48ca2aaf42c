import { wcagContrast } from 'culori'
import fc from 'fast-check'
import type { DrawList, Item, LayerItem } from '../paint/index.ts'
import { paint } from '../paint/index.ts'
import { resources } from '../testing/raster.ts'
import { blurOf, measureSeen, ofWeakest, only, without } from './index.ts'

const width = 160
const height = 120

interface Spec {
  x: number
  y: number
  width: number
  height: number
  colour: string
  opacity: number
  grouped: boolean
  cut: boolean
}

const path = ({ x, y, width: w, height: h, colour }: Spec): Item => ({
  kind: 'path',
  d: `M${x} ${y}h${w}v${h}h${-w}Z`,
  bounds: { x, y, width: w, height: h },
  fill: colour,
})
const layer = (items: Item[], more: Partial<LayerItem> = {}): LayerItem => ({
  kind: 'layer',
  matrix: [1, 0, 0, 1, 0, 0],
  opacity: 1,
  items,
  ...more,
})

const hole: Item = path({ x: 40, y: 20, width: 60, height: 70, colour: '#000000' } as Spec)

/** A drawing of boxes, some in a group, some cut; and the same with all of them whole. */
function drawing(specs: readonly Spec[]): { drawn: DrawList; bare: DrawList } {
  const of = (isBare: boolean): Item[] => {
    const parts = specs.map((spec, i) =>
      layer([path(spec)], {
        of: `p${i}`,
        opacity: isBare ? 1 : spec.opacity,
        ...(spec.cut && !isBare ? { matte: { items: [hole], by: 'alpha' as const, invert: false } } : {}),
      }),
    )
    const grouped = parts.filter((_, i) => specs[i]!.grouped)
    const outside = parts.filter((_, i) => !specs[i]!.grouped)
    return [...outside, layer(grouped, { of: 'group', opacity: isBare ? 1 : 0.7 })]
  }
  return { drawn: { width, height, items: of(false) }, bare: { width, height, items: of(true) } }
}

const pixelsOf = (items: Item[]): Uint8ClampedArray => {
  const surface = resources.surface(width, height)
  paint({ width, height, items }, surface, resources)
  return surface.context.getImageData(0, 0, width, height).data
}

/** The same said as slowly as it can be: the whole frame, one part at a time, over each ground. */
function slowly({ drawn, bare }: ReturnType<typeof drawing>, id: string): { ink: number; shows: number } {
  const ids = new Set([id])
  const [whole, left, alone] = [drawn.items, without(drawn.items, ids), only(bare.items, ids)].map(pixelsOf) as [
    Uint8ClampedArray,
    Uint8ClampedArray,
    Uint8ClampedArray,
  ]
  let [ink, shows] = [0, 0]
  for (let i = 0; i < alone.length; i += 4) {
    if (alone[i + 3]! < 128) continue
    ink++
    const over = (data: Uint8ClampedArray, c: number, ground: number) =>
      (data[i + c]! * data[i + 3]! + ground * (255 - data[i + 3]!)) / 255
    const differs = [0, 128, 255].some((ground) =>
      [0, 1, 2].some((c) => Math.abs(over(whole, c, ground) - over(left, c, ground)) >= 10),
    )
    if (differs) shows++
  }
  return { ink, shows: ink === 0 ? 0 : shows / ink }
}

const spec: fc.Arbitrary<Spec> = fc.record({
  x: fc.integer({ min: 8, max: 90 }),
  y: fc.integer({ min: 8, max: 70 }),
  width: fc.integer({ min: 6, max: 60 }),
  height: fc.integer({ min: 6, max: 40 }),
  colour: fc.constantFrom('#ffffff', '#000000', '#808080', '#204060', '#e3a24a', '#21415f'),
  opacity: fc.constantFrom(1, 1, 0.9, 0.5, 0.02, 0),
  grouped: fc.boolean(),
  cut: fc.boolean(),
})

test('how much of a part is seen is what painting the drawing with and without it says', () => {
  fc.assert(
    fc.property(fc.array(spec, { minLength: 1, maxLength: 6 }), (specs) => {
      const lists = drawing(specs)
      const ids = specs.map((_, i) => `p${i}`)
      const seen = measureSeen(
        lists.drawn,
        lists.bare,
        ids.map((id) => ({ id })),
        resources,
      )
      for (const id of ids) {
        const slow = slowly(lists, id)
        expect(seen.get(id)!.ink).toBe(slow.ink)
        expect(seen.get(id)!.shows).toBeCloseTo(slow.shows, 6)
      }
    }),
    { numRuns: 300 },
  )
})

/** A letter of a colour on a plate of another, at a scale. */
function contrastOf(letter: string, plate: string, scale = 1): number {
  const on = { x: 10, y: 10, width: 120, height: 90, colour: plate } as Spec
  const ink = { x: 50, y: 40, width: 24, height: 30, colour: letter } as Spec
  const items = [layer([path(on)], { of: 'plate' }), layer([path(ink)], { of: 'letter' })]
  const list = { width, height, items }
  const letters = [{ x: 50, y: 40, width: 24, height: 30 }]
  const seen = measureSeen(list, list, [{ id: 'letter', letters }], resources, scale)
  return ofWeakest(seen.get('letter')!, 'contrast')
}

// WCAG 2.2, "contrast ratio" and "relative luminance"; the pairs are those that W3C's and others' pages give for white
// (black 21:1; #767676 4.54:1, the darkest-grey-that-passes; #949494 3.03:1), from memory.
test.each([
  ['#000000', '#ffffff', 21],
  ['#767676', '#ffffff', 4.54],
  ['#949494', '#ffffff', 3.03],
  ['#ffffff', '#ffffff', 1],
])('%s on %s stands out %d to 1', (letter, plate, ratio) => {
  expect(contrastOf(letter, plate)).toBeCloseTo(ratio, 1)
})

test('what is measured is the contrast of the two colours, whatever they are, at any scale', () => {
  const channel = fc.integer({ min: 0, max: 255 })
  const colour = fc
    .tuple(channel, channel, channel)
    .map((rgb) => `#${rgb.map((value) => value.toString(16).padStart(2, '0')).join('')}`)
  fc.assert(
    fc.property(colour, colour, fc.constantFrom(1, 0.5, 0.37), (letter, plate, scale) => {
      const ratio = wcagContrast(letter, plate)
      expect(Math.abs(contrastOf(letter, plate, scale) / ratio - 1)).toBeLessThan(0.03)
    }),
    { numRuns: 150 },
  )
})

test('a part is judged by the weakest tenth of its letters, not by their mean', () => {
  const letters = Array.from({ length: 20 }, (_, i) => ({ shows: i < 2 ? 0.1 : 1, contrast: i < 2 ? 1.2 : 12 }))
  const part = { ink: 1, within: 1, shows: 0.91, contrast: 1, letters }
  expect([ofWeakest(part, 'shows'), ofWeakest(part, 'contrast')]).toEqual([0.1, 1.2])
  const one = { ...part, letters: letters.map((letter, i) => (i === 1 ? { shows: 1, contrast: 12 } : letter)) }
  expect([ofWeakest(one, 'shows'), ofWeakest(one, 'contrast')]).toEqual([1, 12])
})

test('what lies out of the frame is not seen, and what runs is judged by what is in it', () => {
  const half = { x: -30, y: 40, width: 60, height: 30, colour: '#ffffff' } as Spec
  const list = { width, height, items: [layer([path(half)], { of: 'a' })] }
  const seen = (more: object) => measureSeen(list, list, [{ id: 'a', ...more }], resources).get('a')!
  expect(seen({}).within).toBe(0.5)
  expect(seen({}).shows).toBe(0.5)
  expect(seen({ runs: true }).shows).toBe(1)
  expect(measureSeen(list, list, [{ id: 'none' }], resources).get('none')).toMatchObject({ ink: 0, shows: 0 })
})

test('over a ground of its own a part stands out from that, and over no other', () => {
  const list = {
    width,
    height,
    items: [layer([path({ x: 60, y: 45, width: 6, height: 20, colour: '#ffffff' } as Spec)], { of: 'a' })],
  }
  const over = (colour: string) => {
    const ground = [path({ x: 0, y: 0, width, height, colour } as Spec)]
    return measureSeen(list, list, [{ id: 'a' }], resources, 1, ground).get('a')!
  }
  for (const colour of ['#000000', '#204060', '#767676'])
    expect(over(colour)).toMatchObject({ shows: 1, contrast: expect.closeTo(wcagContrast('#ffffff', colour), 1) })
  expect(over('#ffffff')).toMatchObject({ shows: 0, contrast: 1 })
})

test('blurs add up as variances, in px of the frame', () => {
  const inner = layer([hole], { of: 'a', blur: 3 })
  const outer = layer([inner], { blur: 8, matrix: [2, 0, 0, 2, 0, 0] })
  expect(blurOf([outer], 'a')).toBeCloseTo(Math.hypot(8, 6), 9)
  expect(blurOf([outer], 'b')).toBe(0)
})
