import fc from 'fast-check'
import {
  apply,
  boundsOf,
  type Item,
  multiply,
  paintSvg,
  placePicture,
  resample,
  rotationMatrix,
} from '../paint/index.ts'
import type { Values } from '../template/index.ts'
import { axis, box, fixed, part, text, tie, to } from '../testing/parts.ts'
import { assets, sceneOf, speaker } from '../testing/speaker.ts'
import { Scene } from './index.ts'
import { boxPath, brushOver } from './shapes.ts'

const flat = (items: Item[]): Item[] =>
  items.flatMap((item) =>
    item.kind === 'layer' ? [item, ...flat(item.items), ...flat(item.matte?.items ?? [])] : [item],
  )

test('same template, values and frame: the same draw list, in any order (invariant 2)', () => {
  const one = new Scene(speaker, assets)
  const values: Values[] = [{ name: 'Io' }, { name: 'ليلى', role: '' }, { mark: 'mill.png' }]
  const first = values.map(
    (v) =>
      JSON.stringify(one.frame(one.layout(v), one.timing(one.layout({})), 9).items.length) +
      one.posed(one.layout(v), one.timing(one.layout({})), 9).key,
  )
  const two = new Scene(speaker, assets)
  fc.assert(
    fc.property(fc.shuffledSubarray([0, 1, 2], { minLength: 3 }), fc.integer({ min: 0, max: 124 }), (order, other) => {
      for (const i of order) {
        two.frame(two.layout(values[i]!), two.timing(two.layout({})), other)
        expect(
          JSON.stringify(two.frame(two.layout(values[i]!), two.timing(two.layout({})), 9).items.length) +
            two.posed(two.layout(values[i]!), two.timing(two.layout({})), 9).key,
        ).toBe(first[i])
      }
    }),
    { numRuns: 30 },
  )
})

test('a frame that does not exist is refused', () => {
  const scene = new Scene(speaker, assets)
  expect(() => scene.frame(scene.layout({}), scene.timing(scene.layout({})), 125)).toThrow('frames 0 to 124')
})

test('palette colours are looked up, so a recolour is one change', () => {
  const scene = new Scene(
    { ...speaker, palette: speaker.palette.map((p) => (p.id === 'amber' ? { ...p, colour: '#00ff00' } : p)) },
    assets,
  )
  const fills = flat(scene.restFrame(scene.layout({})).items).flatMap((item) =>
    item.kind === 'path' && typeof item.fill === 'string' ? [item.fill] : [],
  )
  expect(fills.filter((f) => f === '#00ff00').length).toBe(2)
})

test('a picture is cut by the part that is its matte; a matte-only part is not drawn', () => {
  const square = (id: string, style: object = {}) =>
    part('box', id, axis([], fixed(50), { place: 10 }), axis([], fixed(50), { place: 10 }), style)
  const scene = sceneOf([
    square('m', { matteOnly: true }),
    { ...square('a'), matte: { part: 'm', by: 'luminance', invert: true } },
  ])
  const { items } = scene.restFrame(scene.layout({}))
  expect(items).toHaveLength(1)
  expect(items[0]).toMatchObject({
    kind: 'layer',
    matte: { by: 'luminance', invert: true, items: [{ kind: 'layer' }] },
  })
})

test('motion turns and scales about the anchor of the rest box, whatever the text', () => {
  const motion = {
    anchor: { x: 1, y: 0.5 },
    out: 'mirror',
    tracks: {
      turn: { keys: [{ span: 'in', at: 0, value: 30, ease: 'linear' }] },
      scale: { keys: [{ span: 'in', at: 0, value: 2, ease: 'linear' }] },
    },
  }
  for (const words of ['Io', 'Maximiliana']) {
    const scene = sceneOf([text('a', words, axis([], { kind: 'content' }, { place: 300 }), {}, { motion })])
    const layout = scene.layout({})
    const [x, y] = [300 + layout.rest.size[0][0]!, layout.rest.size[1][0]! / 2]
    const layer = scene.restFrame(layout).items[0]!
    expect(layer.kind === 'layer' && apply(layer.matrix, x, y)).toEqual([expect.closeTo(x, 6), expect.closeTo(y, 6)])
  }
})

test('riding carries a part with another, in its own place', () => {
  const shift = {
    anchor: { x: 0.5, y: 0.5 },
    out: 'mirror',
    tracks: { shiftX: { unit: 'px', keys: [{ span: 'in', at: 0, value: 40, ease: 'linear' }] } },
  }
  const scene = sceneOf([
    { ...box('a', axis([], fixed(9))), motion: shift } as never,
    {
      ...box('b', axis([tie('start', to('a'), 'end')], fixed(9))),
      motion: { ...shift, tracks: {}, ride: 'a' },
    } as never,
  ])
  const layers = scene.restFrame(scene.layout({})).items
  expect(layers.map((l) => l.kind === 'layer' && l.matrix[4])).toEqual([40, 40])
})

test('a reveal uncovers from nothing to all, on every side, hard and soft', () => {
  for (const from of ['left', 'right', 'top', 'bottom'] as const)
    for (const soft of [0, 40]) {
      const keys = [
        { span: 'in', at: 0, value: 0, ease: 'linear' },
        { span: 'in', at: 10, value: 1, ease: 'linear' },
      ]
      const motion = { anchor: { x: 0.5, y: 0.5 }, out: 'mirror', tracks: { reveal: { from, soft, slant: 20, keys } } }
      const scene = sceneOf([
        { ...box('a', axis([], fixed(200), { place: 100 }), axis([], fixed(80), { place: 100 })), motion } as never,
      ])
      const layout = scene.layout({})
      const at = (f: number) => scene.frame(layout, scene.timing(scene.layout({})), f).items[0]
      expect(at(0)).toBeUndefined()
      expect(at(5)).toMatchObject(soft ? { soft: expect.anything() } : { clip: expect.stringMatching(/^M/) })
      expect(at(10)).not.toHaveProperty('clip')
      expect(at(10)).not.toHaveProperty('soft')
    }
})

test('radii shrink together when they do not fit (CSS Backgrounds 3, 5.5), gradients reach corner to corner (CSS Images 3)', () => {
  expect(boxPath(0, 0, 10, 10, [0, 0, 0, 0])).toBe('M0 0H10V10H0Z')
  expect(boxPath(0, 0, 100, 40, [40, 0, 0, 40])).toBe(boxPath(0, 0, 100, 40, [20, 0, 0, 20]))
  expect(
    brushOver(
      {
        kind: 'linear',
        angle: 90,
        stops: [
          { at: 0, colour: '#000000' },
          { at: 1, colour: '#ffffff' },
        ],
      },
      { x: 0, y: 0, width: 30, height: 10 },
    ),
  ).toMatchObject({ x0: 15, y0: expect.closeTo(0), x1: expect.closeTo(15), y1: 10 })
})

test('pictures cover or contain their box, about their focus', () => {
  const size = { width: 400, height: 200 }
  expect(placePicture(size, { width: 100, height: 100 }, 'cover', 0, 0.5, 1)).toEqual({
    at: { x: 0, y: 0, width: 100, height: 100 },
    crop: { x: 0, y: 0, width: 200, height: 200 },
  })
  expect(placePicture(size, { width: 100, height: 100 }, 'contain', 0.5, 1, 1)).toEqual({
    at: { x: 0, y: 50, width: 100, height: 50 },
    crop: { x: 0, y: 0, width: 400, height: 200 },
  })
  const flatGrey = { id: 'g', width: 9, height: 7, rgba: new Uint8ClampedArray(9 * 7 * 4).fill(120) }
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 20 }), fc.integer({ min: 1, max: 20 }), (w, h) => {
      const scaled = resample(flatGrey, { x: 0, y: 0, width: 9, height: 7 }, w, h)
      expect(scaled.rgba.every((v) => v === 120)).toBe(true)
    }),
  )
})

test('bounds are never too small under any map', () => {
  const item: Item = {
    kind: 'path',
    d: '',
    bounds: { x: 0, y: 0, width: 10, height: 4 },
    fill: '#ffffff',
    shadows: [{ x: 3, y: 0, blur: 4, colour: '#000000' }],
  }
  const b = boundsOf([item], multiply(rotationMatrix(90), [1, 0, 0, 1, 0, 0]))!
  expect([b.x, b.y, b.width, b.height].map((v) => Math.round(v))).toEqual([-10, -3, 16, 22])
})

test('a frame as SVG is well-formed and says what the canvas draws', () => {
  const scene = new Scene(speaker, assets)
  const svg = paintSvg(
    scene.frame(scene.layout({ name: 'Ana "A" <b>' }), scene.timing(scene.layout({})), 9),
    () => 'AAAA',
  )
  expect(svg.match(/<g[ >]/g)!.length).toBe(svg.match(/<\/g>/g)!.length)
  for (const piece of [
    'viewBox="0 0 1920 1080"',
    '<linearGradient',
    '<mask',
    'data:image/png;base64,AAAA',
    '#f4ead5',
    'feDropShadow',
  ])
    expect(svg).toContain(piece)
  const ids = [...svg.matchAll(/ id="(d\d+)"/g)].map((m) => m[1])
  expect(new Set(ids).size).toBe(ids.length)
  for (const [, id] of svg.matchAll(/url\(#(d\d+)\)/g)) expect(ids).toContain(id)
})
