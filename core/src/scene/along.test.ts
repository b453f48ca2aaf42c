import fc from 'fast-check'
import { checkLayout } from '../data/index.ts'
import type { LayerItem } from '../paint/index.ts'
import type { Motion, Part } from '../template/index.ts'
import { axis, fixed, part, text } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'

const line = part('path', 'way', axis([], fixed(600)), axis([], fixed(100)), {
  outlines: [
    {
      closed: false,
      points: [
        { x: 0, y: 1 },
        { x: 1, y: 1 },
      ],
    },
  ],
})
const ring = part('ellipse', 'way', axis([], fixed(300)), axis([], fixed(300)))
const round = Math.PI * 300

const along = (way: Part, words: string, style: object = {}, motion?: Motion) =>
  sceneOf([way, text('a', words, axis([]), { along: 'way', size: 40, ...style }, motion ? { motion } : {})])

/** The glyphs of a frame as they stand: place and turn of each. */
function standing(scene: ReturnType<typeof along>, frame?: number) {
  const layout = scene.layout({})
  const timing = scene.timing(layout)
  const { items } = scene.frame(layout, timing, frame ?? timing.in)
  const own = (items.at(-1) as LayerItem).items[0] as LayerItem
  const glyphs = layout.blocks[1]!.glyphs.filter(({ font, id }) => font.ink(id).width > 0)
  return (own.items as LayerItem[]).map(({ matrix }, i) => {
    const { x, advance } = glyphs[i]!
    const middle = x + advance / 2
    const [a, b, c, d, e, f] = matrix
    expect([c, d]).toEqual([-b || 0, a])
    return { x: a * middle + e, y: b * middle + f, angle: Math.atan2(b, a) }
  })
}

test('a text has as much room as its way is long, from where it starts, and fits into that', () => {
  const words = 'round and round the tidal mill we go'
  for (const start of [0, 0.25, 0.5]) {
    const scene = along(line, words, { alongStart: start, fit: [{ step: 'shrink', to: 0.1 }] })
    const { fit, shrink } = scene.layout({}).blocks[1]!
    expect(fit.room).toBeCloseTo(600 * (1 - start), 6)
    expect(fit.width).toBeLessThanOrEqual(600 * (1 - start) + 0.5)
    expect(fit.overflow).toBe(0)
    if (start === 0.5) expect(shrink).toBeLessThan(0.8)
  }
  // A closed way is all room, wherever the text starts.
  expect(along(ring, words, { alongStart: 0.7 }).layout({}).blocks[1]!.fit.room).toBeCloseTo(round, 1)
})

test('what does not fit is told, with how much', () => {
  const scene = along(line, 'round and round the tidal mill we go, and round again', { size: 60 })
  const layout = scene.layout({})
  const found = checkLayout(scene, layout, scene.timing(layout)).filter(({ code }) => code === 'along')
  expect(found.map(({ message }) => message)).toEqual([
    expect.stringMatching(
      /^a runs \d+ px past the end of its path after every fit step; shorten it or draw the path longer\.$/,
    ),
  ])
})

test('another width of its way is another room', () => {
  const words = 'round and round the mill'
  const fit = [{ step: 'shrink', to: 0.1 }]
  const sizes = [600, 300, 150].map((width) => {
    const scene = along({ ...line, x: axis([], fixed(width)) } as Part, words, { fit })
    return scene.layout({}).blocks[1]!.size
  })
  expect(sizes[1]).toBeLessThan(sizes[0]!)
  expect(sizes[2]! / sizes[1]!).toBeCloseTo(0.5, 1)
})

test('letters stand upright when they are not to turn, and on the other side run backwards', () => {
  const turned = standing(along(ring, 'estuary'))
  const upright = standing(along(ring, 'estuary', { alongTurns: 'stand upright' }))
  upright.forEach((one, i) => {
    expect(one.angle).toBeCloseTo(0, 9)
    expect(one.x).toBeCloseTo(turned[i]!.x, 6)
    expect(one.y).toBeCloseTo(turned[i]!.y, 6)
  })
  const [first, last] = [
    standing(along(line, 'estuary'))[0]!,
    standing(along(line, 'estuary', { alongSide: 'other side' }))[0]!,
  ]
  expect(last.x).toBeCloseTo(600 - first.x, 6)
  expect(Math.abs(last.angle)).toBeCloseTo(Math.PI, 9)
})

const travels = (value: number): Motion => ({
  anchor: { x: 0.5, y: 0.5 },
  tracks: {
    travel: {
      keys: [
        { span: 'in', at: 0, value, ease: 'linear' },
        { span: 'in', at: 12, value: 0, ease: 'linear' },
      ],
    },
  },
  out: 'mirror',
})

test('it travels along, and a closed way goes on at its beginning', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -2, max: 2, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (by, start) => {
        const rest = standing(along(line, 'estuary', { alongStart: start }))
        const away = standing(along(line, 'estuary', { alongStart: start }, travels(by)), 0)
        for (const [i, one] of away.entries()) expect(one.x).toBeCloseTo(rest[i]!.x + 600 * by, 5)
        // Round a whole ring once more, everything is where it was.
        const [once, twice] = [by, by + 1].map((value) =>
          standing(along(ring, 'estuary', { alongStart: start }, travels(value)), 0),
        )
        once!.forEach((one, i) => {
          expect(one.x).toBeCloseTo(twice![i]!.x, 3)
          expect(one.y).toBeCloseTo(twice![i]!.y, 3)
        })
      },
    ),
    { numRuns: 50 },
  )
})

test('every letter on a ring is as far from its middle', () => {
  for (const start of [0, 0.4, 0.9])
    for (const { x, y } of standing(along(ring, 'low tide at the mill', { alongStart: start })))
      expect(Math.hypot(x - 150, y - 150)).toBeCloseTo(150, 0)
})
