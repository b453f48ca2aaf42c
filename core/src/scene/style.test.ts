import fc from 'fast-check'
import { checkLayout } from '../data/index.ts'
import { boxOf } from '../layout/index.ts'
import { boundsOf, type Item, type LayerItem, type PathItem } from '../paint/index.ts'
import { parsePathData, tightAreaOf } from '../path/index.ts'
import { type Keyframe, type Part, stillMotion, type Tracks } from '../template/index.ts'
import { axis, box, fixed, part, text, tie, to } from '../testing/parts.ts'
import { assets, sceneOf } from '../testing/speaker.ts'
import { asPath } from './asPath.ts'
import { mixed } from './tint.ts'

const at = (place: number, size: number) => axis([], fixed(size), { place })
const keys = (from: number, rest: number): Keyframe[] => [
  { span: 'in', at: 0, value: from, ease: 'linear' },
  { span: 'in', at: 10, value: rest, ease: 'linear' },
]
const drawn = (parts: Part[], frame = 15) => {
  const scene = sceneOf(parts)
  return scene.frame(scene.layout({}), scene.timing(scene.layout({})), frame).items
}
const paths = (items: readonly Item[]): PathItem[] =>
  items.flatMap((item) => (item.kind === 'layer' ? paths(item.items) : item.kind === 'path' ? [item] : []))
const moving = (one: Part, tracks: Tracks): Part => ({ ...one, motion: { ...stillMotion(), tracks } }) as Part
const line = part('path', 'line', at(100, 400), at(200, 4), {
  fill: null,
  strokeWidth: 4,
  outlines: [
    {
      closed: false,
      points: [
        { x: 0, y: 0.5 },
        { x: 1, y: 0.5 },
      ],
    },
  ],
})

test('a box whose sides lean stays inside its box and reaches all four sides of it', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -60, max: 60 }),
      fc.integer({ min: -60, max: 60 }),
      fc.integer({ min: 0, max: 60 }),
      (leanLeft, leanRight, radius) => {
        const style = { leanLeft, leanRight, radiusTopLeft: radius, radiusBottomRight: radius }
        const [path] = paths(drawn([part('box', 'a', at(50, 400), at(60, 90), style)]))
        const area = tightAreaOf(parsePathData(path!.d))
        expect(area.x).toBeGreaterThanOrEqual(-0.05)
        expect(area.y).toBeGreaterThanOrEqual(-0.05)
        expect(area.x + area.width).toBeLessThanOrEqual(400.05)
        expect(area.height).toBeCloseTo(90, 0)
        if (radius === 0) expect(area.width).toBeCloseTo(400, 0)
      },
    ),
  )
})

test('a box or an ellipse turned into a path has the same outline, place, style and motion', () => {
  for (const kind of ['box', 'ellipse'] as const) {
    const one = part(kind, 'a', at(50, 300), at(60, 120), {
      fill: '#58a39b',
      opacity: 0.5,
      ...(kind === 'box' ? { radiusTopLeft: 40, leanRight: 10 } : {}),
    })
    const path = asPath(one, 300, 120)
    expect(path).toMatchObject({ id: 'a', kind: 'path', x: one.x, y: one.y, motion: one.motion })
    expect(path.style).toMatchObject({ fill: '#58a39b', opacity: 0.5 })
    const area = (p: Part) => tightAreaOf(parsePathData(paths(drawn([p]))[0]!.d))
    for (const side of ['x', 'y', 'width', 'height'] as const)
      expect(Math.abs(area(path)[side] - area(one)[side])).toBeLessThan(0.05)
  }
  expect(asPath(line, 1, 1)).toBe(line)
})

test('a path is drawn on by a share of its length, from its start, end or middle', () => {
  for (const [from, left] of [
    ['start', 0],
    ['end', 200],
    ['middle', 100],
  ] as const) {
    const [path] = paths(drawn([moving(line, { trim: { from, keys: keys(0, 1) } })], 5))
    const area = tightAreaOf(parsePathData(path!.d))
    expect(area.x).toBeCloseTo(left, 0)
    expect(area.width).toBeCloseTo(200, 0)
  }
  expect(drawn([moving(line, { trim: { from: 'start', keys: keys(0, 1) } })], 0)).toEqual([])
})

test('colours turn to another and come back, byte by byte; opacity goes along', () => {
  const any = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`)
  fc.assert(
    fc.property(any, any, (from, to) => {
      expect(mixed(from, to, 0)).toBe(from)
      expect(mixed(from, to, 1)).toBe(to)
    }),
  )
  expect(mixed('#00000000', '#ffffffff', 0.5)).toBe('#80808080')
  const [tinted] = paths(
    drawn(
      [
        moving(part('box', 'a', at(0, 9), at(0, 9), { fill: '#000000' }), {
          colour: { to: 'palette:shell', keys: keys(1, 0) },
        }),
      ],
      0,
    ),
  )
  expect(tinted!.fill).toBe('#f4ead5')
})

test('tracking spreads letters about where the text is aligned; the box that others see stays', () => {
  for (const align of ['start', 'middle', 'end'] as const) {
    const words = moving(text('a', 'Eel', axis([], undefined, { place: 300 }), { align }), {
      track: { keys: keys(400, 0) },
    })
    const [wide, still] = [boundsOf(drawn([words], 0))!, boundsOf(drawn([words], 15))!]
    expect(wide.width).toBeGreaterThan(still.width + 20)
    const edge = { start: 0, middle: 0.5, end: 1 }[align]
    expect(Math.abs(wide.x + wide.width * edge - still.x - still.width * edge)).toBeLessThan(1)
    const scene = sceneOf([words])
    expect(boxOf(scene.layout({}).rest, 0)).toEqual(
      boxOf(sceneOf([text('a', 'Eel', axis([], undefined, { place: 300 }), { align })]).layout({}).rest, 0),
    )
  }
})

test('a text along a path stands on it, glyph by glyph, and is turned as it goes', () => {
  const ring = part('ellipse', 'ring', at(400, 600), at(200, 600))
  const words = text('a', 'round and round the mill', axis([]), { along: 'ring', size: 40 })
  const placed = drawn([ring, words])[1] as LayerItem
  const [map] = placed.items as LayerItem[]
  const glyphs = map!.items as LayerItem[]
  expect(glyphs.length).toBeGreaterThan(15)
  const angles = new Set<number>()
  for (const glyph of glyphs) {
    const [a, b] = glyph.matrix
    expect(Math.hypot(a, b)).toBeCloseTo(1, 9)
    angles.add(Math.round((Math.atan2(b, a) * 180) / Math.PI))
  }
  expect(angles.size).toBeGreaterThan(10)
  const scene = sceneOf([
    ring,
    { ...words, style: { ...words.style, content: [{ text: 'round '.repeat(40) }] } } as Part,
  ])
  const findings = checkLayout(scene, scene.layout({}), scene.timing(scene.layout({})))
  expect(findings.map((f) => f.code)).toContain('along')
  expect(findings.find((f) => f.code === 'along')!.message).toMatch(/runs \d+ px past the end of its path/)
})

test('a picture in a fill is cut to the shape, follows its size, and is missed when it is missing', () => {
  const fill = (picture: string) => ({ kind: 'picture', picture, scaling: 'cover' })
  const items = drawn([part('ellipse', 'a', at(0, 200), at(0, 100), { fill: fill('mill.png'), strokeWidth: 2 })])
  const layers = ((items[0] as LayerItem).items[0] as LayerItem).items
  expect(layers.map((item) => item.kind)).toEqual(['layer', 'path'])
  expect((layers[0] as LayerItem).clip).toContain('A')
  const scene = sceneOf([part('box', 'a', at(300, 200), at(300, 100), { fill: fill('nowhere.png') })])
  expect(
    checkLayout(scene, scene.layout({}), scene.timing(scene.layout({})))
      .map((f) => f.message)
      .join(),
  ).toContain('is filled with "nowhere.png"')
})

test('small caps and tabular figures are the font’s own: other glyphs, figures of one width', () => {
  const width = (words: string, features: string[]) => {
    const { rest } = sceneOf([text('a', words, axis([]), { features })]).layout({})
    return rest.size[0][0]!
  }
  expect(width('tide', ['smcp'])).not.toBe(width('tide', []))
  expect(width('1111', ['tnum'])).toBeCloseTo(width('0000', ['tnum']), 6)
  expect(width('1111', [])).not.toBeCloseTo(width('0000', []), 1)
  expect(assets.fonts.get('semibold')!.features.has('smcp')).toBe(true)
})

// Common practice: a mask must be larger than the longest text expected. Hoja's is sized by ties, so it always is.
test('a mask around a text uncovers all of it, at three times the length too', () => {
  for (const words of ['Eel survey', 'Eel survey, Eel survey, Eel survey']) {
    const mask = part(
      'box',
      'mask',
      axis([tie('start', to('a'), 'start'), tie('end', to('a'), 'end')]),
      axis([tie('start', to('a'), 'start'), tie('end', to('a'), 'end')]),
      { matteOnly: true },
    )
    const masked = {
      ...text('a', words, axis([], undefined, { place: 40 })),
      matte: { part: 'mask', by: 'alpha' as const, invert: false },
    }
    const scene = sceneOf([mask, masked as Part])
    const { rest } = scene.layout({})
    const [cover, covered] = [boxOf(rest, 0), boxOf(rest, 1)]
    expect(cover.x).toBeLessThanOrEqual(covered.x)
    expect(cover.x + cover.width).toBeGreaterThanOrEqual(covered.x + covered.width)
    // A rule that passes over the text as it is uncovered reaches its end, whatever its length.
    const rule = box('rule', axis([tie('start', to('b'), 'end', 0, { follow: 'moving' })], fixed(4)))
    const wiped = moving(text('b', words, axis([], undefined, { place: 40 })), {
      reveal: { from: 'left', soft: 0, slant: 0, keys: keys(0, 1) },
    })
    const both = sceneOf([wiped, rule])
    const ruleAt = (frame: number) => {
      const list = both.frame(both.layout({}), both.timing(both.layout({})), frame).items
      return boundsOf(list.slice(-1))!.x
    }
    const end = boxOf(both.layout({}).rest, 0)
    expect(ruleAt(1)).toBeLessThan(end.x + end.width * 0.2)
    expect(ruleAt(10)).toBeCloseTo(end.x + end.width, 1)
  }
})
