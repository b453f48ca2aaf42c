import { boundsOf, type Item, type PathItem } from '../paint/index.ts'
import type { Part, Style } from '../template/index.ts'
import { axis, box, fixed, part, text, tie, to } from '../testing/parts.ts'
import { assets, templateOf } from '../testing/speaker.ts'
import { variable } from '../testing/variable.ts'
import { Scene } from './index.ts'

const fonts = new Map([...assets.fonts, ['variable', variable]])
const scene = (parts: Part[]) => new Scene(templateOf(parts), { ...assets, fonts })
const moving = (tracks: object) => ({ motion: { anchor: { x: 0.5, y: 0.5 }, tracks, out: 'mirror' } })
/** From `from` at the first frame to rest at the tenth. */
const keys = (from: number) => ({
  keys: [
    { span: 'in', at: 0, value: from, ease: 'linear' },
    { span: 'in', at: 10, value: 0, ease: 'linear' },
  ],
})
const title = (style: Partial<Style<'text'>>, more: object = {}) =>
  text(
    'title',
    'Boats run until nine',
    axis([tie('start', { region: 'frame' }, 'start', 400)]),
    {
      font: 'variable',
      size: 80,
      ...style,
    },
    more,
  )
const flat = (items: readonly Item[]): PathItem[] =>
  items.flatMap((item) => (item.kind === 'layer' ? flat(item.items) : item.kind === 'path' ? [item] : []))
const outlines = (items: readonly Item[]) =>
  flat(items)
    .map(({ d }) => d)
    .join(' ')

test('weight, stretch, optical size and other axes are properties: of a text, and of a stretch of it', () => {
  const widthOf = (style: Partial<Style<'text'>>) => {
    const one = scene([title(style)])
    return one.layout({}).blocks[0]!.fit.width
  }
  const plain = widthOf({})
  expect(widthOf({ weight: 900 })).toBeGreaterThan(plain)
  expect(widthOf({ stretch: 70 })).toBeLessThan(plain)
  // Drawn for its own size; for a smaller one letters are wider.
  expect(widthOf({ opticalSize: 80 })).toBe(plain)
  expect(widthOf({ opticalSize: 8 })).toBeGreaterThan(plain)
  expect(widthOf({ axes: [{ tag: 'XTRA', value: 603 }] })).toBeGreaterThan(plain)
  const run = scene([title({ content: [{ text: 'Boats ' }, { text: 'run', weight: 900 }] })]).layout({}).blocks[0]!
  expect(run.glyphs.map(({ font }) => font.standing.wght)).toEqual([...Array(6).fill(400), ...Array(3).fill(900)])
  // A font without axes takes no notice.
  expect(widthOf({ font: 'semibold', weight: 900 })).toBe(widthOf({ font: 'semibold' }))
})

describe('axes that move', () => {
  const plate = box('plate', axis([tie('start', to('title'), 'start', -20), tie('end', to('title'), 'end', 20)]))
  const drawn = (style: Partial<Style<'text'>>, tracks: object) => {
    const one = scene([title(style, moving(tracks)), plate])
    const layout = one.layout({})
    return (frame: number) => one.frame(layout, one.timing(one.layout({})), frame)
  }
  const still = drawn({}, {})(60)

  test.each([
    ['weight', { weight: keys(-300) }],
    ['stretch', { stretch: keys(-60) }],
    ['another axis', { axis: { tag: 'slnt', ...keys(-10) } }],
  ])('%s changes the letters until they have arrived, and nothing that follows the text', (_name, tracks) => {
    const at = drawn({}, tracks)
    expect(at(60)).toEqual(still)
    expect(outlines(at(0).items)).not.toBe(outlines(at(5).items))
    expect(at(0).items.at(-1)).toEqual(still.items.at(-1))
  })

  test.each([
    ['start', 0],
    ['middle', 0.5],
    ['end', 1],
  ])('a text set by its %s keeps that', (align, share) => {
    const at = drawn({ align }, { stretch: keys(-60) })
    const anchor = (frame: number) => {
      const bounds = boundsOf([at(frame).items[0]!])!
      return bounds.x + bounds.width * share
    }
    // What stands beside the letters themselves grows with them.
    for (const frame of [0, 3, 6]) expect(Math.abs(anchor(frame) - anchor(60))).toBeLessThan(4)
    expect(boundsOf([at(0).items[0]!])!.width).toBeLessThan(boundsOf([at(60).items[0]!])!.width * 0.9)
  })

  test('each frame of the way is a picture of its own, and a frame is the same whatever was asked before', () => {
    const one = scene([title({}, moving({ weight: keys(-300) }))])
    const layout = one.layout({})
    const key = (frame: number) => one.posed(layout, one.timing(one.layout({})), frame).key
    expect(new Set([0, 1, 2, 3, 4].map(key)).size).toBe(5)
    const third = one.frame(layout, one.timing(one.layout({})), 3)
    for (let frame = 0; frame < 15; frame++) one.frame(layout, one.timing(one.layout({})), frame)
    expect(one.frame(layout, one.timing(one.layout({})), 3)).toEqual(third)
  })

  test('lines, letters by themselves, and a curve under the text go along', () => {
    const segments = {
      by: 'character',
      order: 'forward',
      seed: 1,
      overlap: 0.5,
      tracks: { shiftY: { unit: 'px', ...keys(20) } },
    }
    const motion = { anchor: { x: 0.5, y: 0.5 }, tracks: { weight: keys(-300) }, segments, out: 'mirror' }
    const wave = part('ellipse', 'wave', axis([], fixed(800)), axis([], fixed(200)))
    for (const style of [{}, { along: 'wave' }] as const) {
      const one = scene([title(style, { motion }), wave])
      const layout = one.layout({})
      expect(outlines(one.frame(layout, one.timing(one.layout({})), 9).items)).not.toBe(
        outlines(one.restFrame(layout).items),
      )
    }
  })
})
