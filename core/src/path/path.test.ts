import fc from 'fast-check'
import svgpath from 'svgpath'
import type { Outline } from '../template/index.ts'
import {
  areaOf,
  MeasuredPath,
  outlinesOf,
  parsePathData,
  type Segment,
  segmentsOf,
  tightAreaOf,
  writePathData,
} from './index.ts'

const number = fc.double({ min: -200, max: 200, noNaN: true }).map((n) => Math.round(n * 100) / 100)
const pair = fc.tuple(number, number).map((p) => p.join(' '))
const flag = fc.constantFrom('0', '1')
const command = fc.oneof(
  pair.map((p) => `L${p}`),
  pair.map((p) => `l${p}`),
  number.map((n) => `H${n}`),
  number.map((n) => `h ${n}`),
  number.map((n) => `V${n}`),
  number.map((n) => `v${n}`),
  fc.tuple(pair, pair, pair).map((p) => `C${p.join(',')}`),
  fc.tuple(pair, pair, pair).map((p) => `c${p.join(' ')}`),
  fc.tuple(pair, pair).map((p) => `S${p.join(' ')}`),
  fc.tuple(pair, pair).map((p) => `s${p.join(' ')}`),
  fc.tuple(pair, pair).map((p) => `Q${p.join(' ')}`),
  fc.tuple(pair, pair).map((p) => `q${p.join(' ')}`),
  pair.map((p) => `T${p}`),
  pair.map((p) => `t${p}`),
  fc
    .tuple(fc.integer({ min: 1, max: 90 }), fc.integer({ min: 1, max: 90 }), number, flag, flag, pair)
    .map(([rx, ry, turn, large, sweep, to]) => `A${rx} ${ry} ${turn} ${large}${sweep}${to}`),
  fc.constant('z'),
  fc.constant('Z'),
)
const data = fc
  .tuple(pair, fc.array(command, { minLength: 1, maxLength: 12 }))
  .map(([m, list]) => `M${m}${list.join('')}`)

/** The reference's reading: absolute, without shorthands, arcs as curves; as points along the way. */
function reference(d: string): { points: [number, number][]; last: [number, number] } {
  const points: [number, number][] = []
  let [x, y, sx, sy] = [0, 0, 0, 0]
  svgpath(d)
    .abs()
    .unshort()
    .unarc()
    .iterate((segment) => {
      const [name, ...v] = segment as unknown as [string, ...number[]]
      const to = (px: number, py: number) => {
        points.push([px, py])
        ;[x, y] = [px, py]
      }
      if (name === 'M') {
        ;[sx, sy] = [v[0]!, v[1]!]
        to(sx, sy)
      } else if (name === 'L') to(v[0]!, v[1]!)
      else if (name === 'H') to(v[0]!, y)
      else if (name === 'V') to(x, v[0]!)
      else if (name === 'C') to(v[4]!, v[5]!)
      else if (name === 'Q') to(v[2]!, v[3]!)
      else if (name === 'Z') [x, y] = [sx, sy]
    })
  return { points, last: [x, y] }
}
const ends = (segments: Segment[]): [number, number][] => segments.flatMap((s) => (s.type === 'Z' ? [] : [[s.x, s.y]]))

/** Where the pen stands in the end. */
function lastOf(segments: Segment[]): [number, number] {
  let [x, y, startX, startY] = [0, 0, 0, 0]
  for (const s of segments) {
    if (s.type === 'M') [startX, startY] = [s.x, s.y]
    ;[x, y] = s.type === 'Z' ? [startX, startY] : [s.x, s.y]
  }
  return [x, y]
}

test('path data is read as svgpath reads it (npm svgpath, a published SVG path library)', () => {
  fc.assert(
    fc.property(data, (d) => {
      const mine = ends(parsePathData(d))
      const { points: theirs, last } = reference(d)
      // Arcs may be cut into another number of curves; ends of commands must be met in order.
      let i = 0
      for (const [x, y] of mine) {
        while (i < theirs.length && Math.hypot(theirs[i]![0] - x, theirs[i]![1] - y) > 1e-6) i++
        if (!/[aA]/.test(d)) expect(i).toBeLessThan(theirs.length)
      }
      if (!/[aA]/.test(d)) expect(mine).toHaveLength(theirs.length)
      const [x, y] = lastOf(parsePathData(d))
      // Its arcs end within its own rounding.
      expect(Math.hypot(x - last[0], y - last[1])).toBeLessThan(1e-4)
    }),
    { numRuns: 400 },
  )
})

test('curves and arcs cover what svgpath draws: the same boxes after a turn and a stretch', () => {
  fc.assert(
    fc.property(data, fc.integer({ min: -80, max: 80 }), (d, angle) => {
      const turned = svgpath(d).abs().unshort().unarc().rotate(angle).scale(1.5, 0.5).toString()
      const radians = (angle * Math.PI) / 180
      const map = (x: number, y: number) => [
        1.5 * (x * Math.cos(radians) - y * Math.sin(radians)),
        0.5 * (x * Math.sin(radians) + y * Math.cos(radians)),
      ]
      const mine = parsePathData(d).map((s): Segment => {
        if (s.type === 'Z') return s
        const [x, y] = map(s.x, s.y) as [number, number]
        if (s.type !== 'C') return { ...s, x, y }
        const [[x1, y1], [x2, y2]] = [map(s.x1, s.y1), map(s.x2, s.y2)] as [[number, number], [number, number]]
        return { type: 'C', x1, y1, x2, y2, x, y }
      })
      const [a, b] = [tightAreaOf(mine), tightAreaOf(parsePathData(turned))]
      for (const key of ['x', 'y', 'width', 'height'] as const) expect(Math.abs(a[key] - b[key])).toBeLessThan(0.25)
    }),
    { numRuns: 300 },
  )
})

test('what is written is read back as it was, and svgpath reads it without complaint', () => {
  fc.assert(
    fc.property(data, (d) => {
      const segments = parsePathData(d)
      const written = writePathData(segments)
      expect(parsePathData(written)).toEqual(segments)
      expect((svgpath(written) as unknown as { err: string }).err).toBe('')
    }),
  )
})

test.each([
  ['L 10 10', 'does not begin with a move'],
  ['M 10', 'ends a command M in the middle'],
  ['M0 0 L 1 x', 'holds "x"'],
  ['M0 0 A 1 1 0 2 0 5 5', 'neither 0 nor 1'],
  ['M0 0 Z 4', 'a number where a command should stand'],
])('%s is refused in a sentence', (d, why) => {
  expect(() => parsePathData(d)).toThrow(why)
})

test('outlines and segments say the same: fractions of a box there and back', () => {
  fc.assert(
    fc.property(data, (d) => {
      const segments = parsePathData(d)
      const area = tightAreaOf(segments)
      fc.pre(area.width > 1 && area.height > 1)
      const back = segmentsOf(outlinesOf(segments, area), area)
      const [a, b] = [tightAreaOf(segments), tightAreaOf(back)]
      for (const key of ['x', 'y', 'width', 'height'] as const)
        expect(Math.abs(a[key] - b[key])).toBeLessThan(1e-3 * (1 + area.width + area.height))
    }),
    { numRuns: 200, examples: [['M0 0c0 0 -2.26 0 0 0q0 2.01 0 0ZZ']] },
  )
})

test('an outline stretches with its box', () => {
  const leaf: Outline = {
    closed: true,
    points: [
      { x: 0, y: 0.5, out: [0.2, -0.5], in: [0.2, 0.5] },
      { x: 1, y: 0.5, in: [-0.2, -0.5], out: [-0.2, 0.5] },
    ],
  }
  const one = tightAreaOf(segmentsOf([leaf], { x: 10, y: 20, width: 100, height: 40 }))
  const two = tightAreaOf(segmentsOf([leaf], { x: 10, y: 20, width: 300, height: 40 }))
  expect(two.width).toBeCloseTo(one.width * 3, 6)
  expect(two.height).toBeCloseTo(one.height, 6)
})

test('a path is measured along its way: a circle has its circumference, cutting it keeps the sum', () => {
  const circle = parsePathData('M 100 0 A 100 100 0 0 1 -100 0 A 100 100 0 0 1 100 0')
  const path = new MeasuredPath(circle)
  expect(Math.abs(path.length - 2 * Math.PI * 100)).toBeLessThan(0.2)
  const quarter = path.at(path.length / 4)
  expect(quarter.x).toBeCloseTo(0, 0)
  expect(quarter.y).toBeCloseTo(100, 0)
  expect(Math.abs(quarter.angle)).toBeCloseTo(Math.PI, 1)
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (share) => {
      const at = path.length * share
      const [a, b] = [new MeasuredPath(path.between(0, at)), new MeasuredPath(path.between(at, path.length))]
      expect(a.length + b.length).toBeCloseTo(path.length, 1)
    }),
  )
  const before = path.at(-10)
  expect(before.y).toBeLessThan(0)
  expect(areaOf(path.between(0, path.length / 2)).y).toBeGreaterThan(-1)
})
