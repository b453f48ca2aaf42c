import fc from 'fast-check'
import type { Item, PathItem, Pixels } from '../paint/index.ts'
import { parsePathData } from '../path/index.ts'
import { type Part, readTemplate, type Template } from '../template/index.ts'
import { axis, fixed, part } from '../testing/parts.ts'
import { assets, templateOf } from '../testing/speaker.ts'
import { curveOutline } from './curve.ts'
import { type MovingPicture, Scene } from './index.ts'

const pixels = (n: number): Pixels => ({
  id: `movie#${n}`,
  width: 2,
  height: 2,
  rgba: new Uint8ClampedArray(16).fill(n),
})
const movie: MovingPicture = { width: 2, height: 2, frames: 10, rate: { num: 10, den: 1 }, frame: pixels }
const withMovie = {
  ...assets,
  picture: () => pixels(0),
  movie: (name: string) => (name === 'boats.mov' ? movie : undefined),
}

const sceneWith = (parts: Part[], more: Partial<Template> = {}) =>
  new Scene(templateOf(parts, { frame: { ...templateOf([]).frame, rate: { num: 25, den: 1 } }, ...more }), withMovie)

const flat = (items: readonly Item[]): Item[] =>
  items.flatMap((item) => (item.kind === 'layer' ? [item, ...flat(item.items)] : [item]))

/** Which frame of the movie is seen at each of some frames of the title. */
function seen(playing: string, frames: number[], more: object = {}): (string | undefined)[] {
  const style = { picture: 'boats.mov', playing, ...more }
  const picture = part('picture', 'p', axis([], fixed(2)), axis([], fixed(2)), style)
  const scene = sceneWith([picture])
  const layout = scene.layout({})
  return frames.map((frame) => {
    const item = flat(scene.frame(layout, scene.timing(scene.layout({})), frame).items).find(
      (one) => one.kind === 'picture',
    )
    return item?.kind === 'picture' ? item.pixels.id.split('@')[0] : undefined
  })
}

test('a movie runs by the clock, at its own rate, through a frozen Hold; then it holds, goes, or begins again', () => {
  // 10 frames a second in a title of 25: frame 24 is 0.96 s, frame 25 is 1 s, where the movie is over.
  expect(seen('once, then holds', [0, 2, 3, 24, 25, 100])).toEqual([0, 0, 1, 9, 9, 9].map((n) => `movie#${n}`))
  expect(seen('once, then goes', [24, 25, 100])).toEqual(['movie#9', undefined, undefined])
  expect(seen('over and over', [24, 25, 28, 50])).toEqual([9, 0, 1, 0].map((n) => `movie#${n}`))
})

test('of a movie a stretch is seen, and faster or slower', () => {
  const named = (numbers: number[]) => numbers.map((n) => `movie#${n}`)
  expect(seen('once, then holds', [0, 5, 100], { movieStart: 0.4 })).toEqual(named([4, 6, 9]))
  const stretch = { movieStart: 0.4, movieLength: 0.3 }
  expect(seen('once, then holds', [0, 3, 5, 8, 100], stretch)).toEqual(named([4, 5, 6, 6, 6]))
  expect(seen('over and over', [0, 5, 8, 10], stretch)).toEqual(named([4, 6, 4, 5]))
  expect(seen('once, then goes', [7, 8], stretch)).toEqual(['movie#6', undefined])
  expect(seen('once, then holds', [5, 10], { movieSpeed: 2 })).toEqual(named([4, 8]))
  expect(seen('once, then holds', [5, 10], { movieSpeed: 0.5 })).toEqual(named([1, 2]))
  // Past its end there is its last frame.
  expect(seen('over and over', [0, 3], { movieStart: 99 })).toEqual(named([9, 9]))
})

test('frames that show the same of a movie have equal keys, others have not', () => {
  const picture = part('picture', 'p', axis([], fixed(2)), axis([], fixed(2)), { picture: 'boats.mov' })
  const scene = sceneWith([picture])
  const layout = scene.layout({})
  const key = (frame: number) => scene.posed(layout, scene.timing(scene.layout({})), frame).key
  expect(key(3)).toBe(key(4))
  expect(key(4)).not.toBe(key(5))
  expect(key(40)).toBe(key(60))
})

describe('a crawl', () => {
  const crawl = (speed: number) =>
    part('text', 'p', axis([], fixed(500), { place: 100 }), axis([]), {
      content: [{ text: 'Boats run until nine' }],
      font: 'semibold',
      size: 40,
      crawl: speed,
    })
  /** Left edge of the running text in its box, px, and the way it has to go before it comes in again. */
  const at = (speed: number, frame: number) => {
    const scene = sceneWith([crawl(speed)])
    const layout = scene.layout({})
    const clipped = flat(scene.frame(layout, scene.timing(scene.layout({})), frame).items).find(
      (i) => i.kind === 'layer' && i.clip,
    )
    if (clipped?.kind !== 'layer' || clipped.items[0]?.kind !== 'layer') throw new Error('no crawl')
    const block = layout.blocks[0]!
    return { x: clipped.items[0].matrix[4] + block.boxes.line.x, way: 500 + block.boxes.line.width, clip: clipped.clip }
  }

  test('comes in at the far side of its box, runs at its speed without end, cut at the sides', () => {
    const { way, clip } = at(200, 0)
    expect(clip).toMatch(/^M0 .*H500V/)
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 124 }), fc.constantFrom(50, 125, 400, 4000), (frame, speed) => {
        const run = ((speed * frame) / 25) % way
        expect(at(speed, frame).x).toBeCloseTo(500 - run, 1)
        expect(at(-speed, frame).x).toBeCloseTo(run - (way - 500), 1)
      }),
      { numRuns: 40 },
    )
  })

  test('never has to fit its box, and no two of its frames are one picture', () => {
    const scene = sceneWith([crawl(100)])
    const layout = scene.layout({})
    expect(layout.blocks[0]!.fit.overflow).toBe(0)
    expect(layout.blocks[0]!.lineCount).toBe(1)
    const keys = Array.from(
      { length: 125 },
      (_, frame) => scene.posed(layout, scene.timing(scene.layout({})), frame).key,
    )
    expect(new Set(keys).size).toBe(125)
  })
})

test('without anything that runs, a frozen Hold is one picture', () => {
  const scene = sceneWith([part('curve', 'c', axis([], fixed(10)), axis([], fixed(10)))])
  const layout = scene.layout({})
  expect(scene.posed(layout, scene.timing(scene.layout({})), 20)).toBe(
    scene.posed(layout, scene.timing(scene.layout({})), 80),
  )
})

describe('a curve', () => {
  const style = { range: 'of the numbers', low: 0, high: 10, line: 'smooth' }

  test('goes through its numbers from left to right, the highest at the top of its box', () => {
    const points = curveOutline({ ...style, values: [2, 6, 4] }).points
    expect(points.map(({ x, y }) => [x, y])).toEqual([
      [0, 1],
      [0.5, 0],
      [1, 0.5],
    ])
    expect(curveOutline({ ...style, range: 'fixed', values: [5, 0] }).points.map((p) => p.y)).toEqual([0.5, 1])
    expect(curveOutline({ ...style, line: 'steps', values: [0, 1] }).points.map(({ x, y }) => [x, y])).toEqual([
      [0, 1],
      [0.5, 1],
      [0.5, 0],
      [1, 0],
    ])
    expect(curveOutline({ ...style, values: [3, 3, 3] }).points.map((p) => p.y)).toEqual([0.5, 0.5, 0.5])
  })

  test('a smooth one never swings past the numbers on either side (Fritsch and Carlson 1980)', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 2, maxLength: 12 }), (values) => {
        const { points } = curveOutline({ ...style, values })
        points.slice(1).forEach((to, i) => {
          const from = points[i]!
          const [y1, y2] = [from.y + from.out![1], to.y + to.in![1]]
          for (let t = 0; t <= 1; t += 0.05) {
            const s = 1 - t
            const y = s ** 3 * from.y + 3 * s * s * t * y1 + 3 * s * t * t * y2 + t ** 3 * to.y
            expect(y).toBeGreaterThanOrEqual(Math.min(from.y, to.y) - 1e-9)
            expect(y).toBeLessThanOrEqual(Math.max(from.y, to.y) + 1e-9)
          }
        })
      }),
    )
  })

  test('is drawn as a line and, with a fill, as the area under it; data drives it', () => {
    const document = templateOf(
      [
        part('curve', 'c', axis([], fixed(200)), axis([], fixed(100)), {
          fill: '#ff0000',
          strokeWidth: 4,
          line: 'straight',
        }),
      ],
      {
        fields: [
          {
            id: 'f',
            key: 'h',
            name: 'Heights',
            note: '',
            type: 'numbers',
            targets: [{ part: 'c', property: 'values' }],
            default: [1, 2],
            required: false,
            onAir: true,
          },
        ],
      },
    )
    const scene = new Scene(readTemplate(JSON.parse(JSON.stringify(document))), assets)
    const paths = (values: number[]) =>
      flat(scene.restFrame(scene.layout({ h: values })).items).filter((i): i is PathItem => i.kind === 'path')
    const [area, line] = paths([0, 4, 2]) as [PathItem, PathItem]
    expect(parsePathData(line.d)).toEqual([
      { type: 'M', x: 0, y: 100 },
      { type: 'L', x: 100, y: 0 },
      { type: 'L', x: 200, y: 50 },
    ])
    expect(line.fill).toBeUndefined()
    expect(area.stroke).toBeUndefined()
    expect(parsePathData(area.d).slice(3)).toEqual([
      { type: 'L', x: 200, y: 100 },
      { type: 'L', x: 0, y: 100 },
      { type: 'Z' },
    ])
    expect(paths([3])).toHaveLength(2)
    expect(paths([])).toEqual([])
  })
})
