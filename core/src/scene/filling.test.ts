import { boxOf } from '../layout/index.ts'
import { boundsOf } from '../paint/index.ts'
import type { FitStep, Part } from '../template/index.ts'
import { axis, box, content, fixed, part, text, tie, to } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'

const bothWays: FitStep[] = [
  { step: 'fill', share: 1, least: 0.1, most: 20, by: 'both' },
  { step: 'wrap', to: 9 },
]
const inside = (id: string) => axis([tie('start', to(id), 'start', 40), tie('end', to(id), 'end', -40)])
const filled = (said: string, width: number, height: number) => {
  const parts = [
    box('panel', axis([], fixed(width), { place: 100 }), axis([], fixed(height), { place: 100 })),
    part('text', 'quote', inside('panel'), inside('panel'), {
      content: [{ text: said }],
      font: 'semibold',
      fit: bothWays,
    }),
  ]
  const scene = sceneOf(parts)
  const layout = scene.layout({})
  const [panel, quote] = [boxOf(layout.rest, 0), boxOf(layout.rest, 1)]
  return { scene, layout, panel, quote, block: layout.blocks[1]! }
}

test('a quote is as large as its panel allows, both ways, and stands in the middle of its height', () => {
  for (const said of ['Home', 'The tide waits', 'We count every bird of the marsh, every year, whatever the weather']) {
    for (const [width, height] of [
      [1200, 400],
      [500, 800],
    ] as const) {
      const { scene, layout, quote, block, panel } = filled(said, width, height)
      expect([quote.width, quote.height]).toEqual([width - 80, height - 80])
      const { line } = block.boxes
      expect(line.width).toBeLessThanOrEqual(quote.width + 1e-6)
      expect(line.height).toBeLessThanOrEqual(quote.height + 1e-6)
      // One of the two bounds it, but for the words that would have to be broken.
      expect(Math.max(line.width / quote.width, line.height / quote.height)).toBeGreaterThan(0.75)
      const ink = boundsOf(scene.restFrame(layout).items.slice(1))!
      const middle = ink.y + ink.height / 2
      expect(Math.abs(middle - (panel.y + panel.height / 2))).toBeLessThan(quote.height * 0.12)
      expect(ink.y).toBeGreaterThanOrEqual(panel.y)
    }
  }
})

test('a text whose height is that of its lines has none to fill, and stands as it is', () => {
  const one = sceneOf([
    text('t', 'Home', axis([]), { fit: [{ step: 'fill', share: 1, least: 0.1, most: 9, by: 'height' }] }),
  ])
  expect(one.layout({}).blocks[0]!.shrink).toBe(1)
})

const column = (oneSize: boolean, fit: FitStep[], ...names: string[]): Part[] => [
  part(
    'group',
    'names',
    axis([]),
    axis([]),
    { oneSize },
    {
      parts: names.map((name, i) =>
        part(
          'text',
          `t${i}`,
          axis([], content, { place: 100 }),
          axis([], content, { place: 100 + 90 * i }),
          {
            content: [{ text: name }],
            font: 'semibold',
            size: 60,
            fit,
          },
          { room: { kind: 'width', value: 500 } },
        ),
      ),
    },
  ),
]

test.each([
  ['shrunk', [{ step: 'shrink', to: 0.2 }]],
  ['filling', [{ step: 'fill', share: 1, least: 0.2, most: 4 }]],
] as [string, FitStep[]][])(
  'names of a column are at one size, that of the one that has to give way most: %s',
  (_, fit) => {
    const names = ['Io', 'Maren Oduya-Castellví', 'Maximiliana Theodora von Hollenstein']
    const sizes = (oneSize: boolean, ...said: string[]) =>
      sceneOf(column(oneSize, fit, ...said))
        .layout({})
        .blocks.flatMap((block) => (block ? [block.size] : []))
    const alone = sizes(false, ...names)
    expect(new Set(alone).size).toBeGreaterThan(1)
    for (const size of sizes(true, ...names)) expect(size).toBeCloseTo(Math.min(...alone), 6)
    // Who is not there has no say.
    for (const size of sizes(true, 'Io', 'Li')) expect(size).toBeCloseTo(Math.min(...sizes(false, 'Io', 'Li')), 6)
    expect(sizes(true, 'Io', '')[0]).toBe(sizes(false, 'Io')[0])
  },
)
