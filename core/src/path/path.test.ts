import { createCanvas, Path2D } from '@napi-rs/canvas'
import fc from 'fast-check'
import type { Outline } from '../template/index.ts'
import { areaOf, MeasuredPath, outlinesOf, parsePathData, segmentsOf, tightAreaOf, writePathData } from './index.ts'

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

const side = 240

/** Path data as Skia draws it, by its own reading of SVG paths: coverage of a thin stroke, 0 to 255. */
function drawn(d: string): Uint8Array {
  const canvas = createCanvas(side, side)
  const context = canvas.getContext('2d')
  context.translate(side / 2, side / 2)
  context.scale(0.3, 0.3)
  context.lineWidth = 6
  // Where lines run, not how they meet: a hair's breadth before a curve turns the spike of a mitre any way.
  context.lineJoin = 'round'
  context.stroke(new Path2D(d))
  const { data } = context.getImageData(0, 0, side, side)
  return Uint8Array.from({ length: side * side }, (_, i) => data[i * 4 + 3]!)
}

/** Well covered pixels of one drawing that have nothing of the other within a pixel. */
function astray(one: Uint8Array, other: Uint8Array): number {
  let count = 0
  for (let y = 1; y < side - 1; y++)
    for (let x = 1; x < side - 1; x++) {
      if (one[y * side + x]! < 128) continue
      const near = [-1, 0, 1].some((dy) => [-1, 0, 1].some((dx) => other[(y + dy) * side + x + dx]! > 0))
      if (!near) count++
    }
  return count
}

test('path data is read as Skia reads it: what is drawn of either lies on the other', () => {
  let inked = 0
  fc.assert(
    fc.property(data, (d) => {
      const [mine, theirs] = [drawn(writePathData(parsePathData(d))), drawn(d)]
      inked += theirs.filter((value) => value > 0).length
      expect([astray(mine, theirs), astray(theirs, mine)]).toEqual([0, 0])
    }),
    { numRuns: 200 },
  )
  expect(inked).toBeGreaterThan(3000)
})

test('what is written is read back as it was', () => {
  fc.assert(
    fc.property(data, (d) => {
      const segments = parsePathData(d)
      const written = writePathData(segments)
      expect(parsePathData(written)).toEqual(segments)
    }),
  )
})

test.each([
  ['L 10 10', 'at character 1;'],
  ['M 10', 'at character 5;'],
  ['M0 0 L 1 x', 'at character 10;'],
  ['M0 0 A 1 1 0 2 0 5 5', 'at character 14;'],
  ['M0 0 Z 4', 'at character 8;'],
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
