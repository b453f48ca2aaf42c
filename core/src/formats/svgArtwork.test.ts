import fc from 'fast-check'
import svgpath from 'svgpath'
import { boxOf } from '../layout/index.ts'
import { boundsOf } from '../paint/index.ts'
import { parsePathData, tightAreaOf } from '../path/index.ts'
import { allParts } from '../template/index.ts'
import { sceneOf } from '../testing/speaker.ts'
import { artworkParts, readSvgArtwork, shapesIn } from './index.ts'

const svg = (inside: string, box = '0 0 100 80') =>
  `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" viewBox="${box}">${inside}</svg>`
const shapesOf = (text: string) => shapesIn(readSvgArtwork(text, 'drawing.svg').nodes)
const only = (inside: string, box?: string) => shapesOf(svg(inside, box))[0]!

test('basic shapes have the boxes that SVG 1.1 gives them', () => {
  const area = (inside: string) => tightAreaOf(only(inside).segments)
  expect(area('<rect x="5" y="6" width="20" height="10" rx="3"/>')).toEqual({ x: 5, y: 6, width: 20, height: 10 })
  const circle = area('<circle cx="50" cy="40" r="10"/>')
  expect(circle.x).toBeCloseTo(40, 2)
  expect(circle.height).toBeCloseTo(20, 2)
  expect(area('<ellipse cx="50" cy="40" rx="30" ry="5"/>').width).toBeCloseTo(60, 2)
  expect(area('<polygon points="0,0 10,0 10,20"/>')).toEqual({ x: 0, y: 0, width: 10, height: 20 })
  expect(area('<line x1="1" y1="2" x2="11" y2="2" stroke="red"/>')).toEqual({ x: 1, y: 2, width: 10, height: 0 })
})

test('transforms compose as svgpath composes them', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -90, max: 90 }),
      fc.integer({ min: -20, max: 20 }),
      fc.integer({ min: 1, max: 4 }),
      (angle, shift, factor) => {
        const d = 'M0 0L30 0C40 10 20 30 0 20Z'
        const list = `translate(${shift} 3) rotate(${angle} 5 6) scale(${factor}) skewX(10)`
        const mine = tightAreaOf(only(`<g transform="${list}"><path d="${d}"/></g>`).segments)
        const theirs = tightAreaOf(parsePathData(svgpath(d).transform(list).abs().toString()))
        for (const side of ['x', 'y', 'width', 'height'] as const) expect(mine[side]).toBeCloseTo(theirs[side], 2)
      },
    ),
  )
})

test('fills and strokes come from attributes, styles, classes and groups; colours of CSS are understood', () => {
  expect(only('<g fill="tomato"><rect width="9" height="9"/></g>').fill).toBe('#ff6347')
  expect(only('<rect width="9" height="9" style="fill: rgb(0, 128, 255); fill-opacity: .5"/>').fill).toBe('#0080ff80')
  expect(only('<style>.a{fill:#123456}</style><rect class="a" width="9" height="9"/>').fill).toBe('#123456')
  expect(
    only('<rect width="9" height="9" fill="none" stroke="#fff" stroke-width="2" stroke-linecap="round"/>'),
  ).toMatchObject({
    fill: null,
    stroke: '#ffffff',
    strokeWidth: 2,
    ends: 'round',
  })
  expect(only('<g stroke="#000" transform="scale(3)"><path d="M0 0L9 9" stroke-width="2"/></g>').strokeWidth).toBe(6)
})

test('what paths cannot say is named, so that it can come in as a picture', () => {
  const beyond = (inside: string) => readSvgArtwork(svg(inside), 'x.svg').beyond
  expect(beyond('<text>hello</text>')).toEqual(['text'])
  const server = (name: string, more = '', stops = 2) =>
    `<${name} id="g" ${more}>${'<stop offset=".5" stop-color="red"/>'.repeat(stops)}</${name}><rect width="9" height="5" fill="url(#g)"/>`
  expect(beyond(server('pattern'))).toEqual(['a pattern'])
  expect(beyond(server('radialGradient'))).toEqual(['an oval gradient'])
  expect(beyond(server('radialGradient', 'gradientUnits="userSpaceOnUse" cx="4" cy="4" r="3" fx="2"'))).toEqual([
    'a gradient with its focus aside',
  ])
  expect(beyond(server('linearGradient', '', 40))).toEqual(['a gradient that repeats often'])
  expect(beyond('<rect width="9" height="9" stroke="url(#g)"/>')).toEqual(['a gradient or pattern in a stroke'])
  expect(beyond('<rect width="9" height="9" clip-path="url(#none)"/>')).toEqual(['a clip that is no path'])
  expect(beyond('<rect width="9" height="9" mask="url(#none)"/>')).toEqual(['a mask that is no drawing'])
  expect(beyond('<rect width="9" height="9" filter="url(#f)"/>')).toEqual(['a filter'])
  expect(beyond('<path fill-rule="evenodd" d="M50 5L80 75L5 30H95L20 75Z"/>')).toEqual([
    'the even-odd fill rule on lines that cross',
  ])
  expect(beyond('<symbol id="s"><circle r="9"/></symbol><use href="#s" x="20" y="20"/>')).toEqual([
    'a symbol that is cut',
  ])
  // What only cuts may be painted in anything.
  expect(
    beyond(`<clipPath id="c">${server('radialGradient')}</clipPath><rect width="9" height="9" clip-path="url(#c)"/>`),
  ).toEqual([])
  expect(beyond('<rect width="9" height="9"/>')).toEqual([])
})

test('artwork becomes a group whose paths stretch with it, and a single shape one path', () => {
  const artwork = readSvgArtwork(
    svg('<rect width="50" height="80"/><circle cx="75" cy="40" r="25" fill="red"/>'),
    'two.svg',
  )
  const group = artworkParts(artwork, 'art', 'Two', { x: 200, y: 100 })
  expect(group.kind).toBe('group')
  const wide = { ...group, x: { ...group.x, size: { kind: 'fixed' as const, value: 300 } } }
  for (const [one, k] of [
    [group, 1],
    [wide, 3],
  ] as const) {
    const scene = sceneOf([one])
    const layout = scene.layout({})
    const boxes = allParts([one]).map((_, i) => boxOf(layout.rest, i))
    expect(boxes[1]).toMatchObject({ x: 200, y: 100, width: 50 * k, height: 80 })
    expect(boxes[2]!.x).toBeCloseTo(200 + 50 * k, 3)
    const drawn = boundsOf(scene.restFrame(layout).items)!
    expect(drawn.x + drawn.width).toBeCloseTo(200 + 100 * k, 0)
  }
  const single = artworkParts(readSvgArtwork(svg('<rect x="10" width="50" height="80"/>'), 'one.svg'), 'art', 'One', {
    x: 5,
    y: 5,
  })
  expect(single).toMatchObject({ kind: 'path', name: 'One', x: { place: 15 } })
})

test.each([
  ['nothing', 'holds no svg element'],
  ['<svg xmlns="http://www.w3.org/2000/svg"></svg>', 'neither a viewBox nor a size'],
  ['<svg viewBox="0 0 9 9"><path d="M0 0 L x"/></svg>', 'be read at character 8;'],
])('%s is refused in a sentence', (text, why) => {
  expect(() => readSvgArtwork(text, 'bad.svg')).toThrow(why)
})

test('a drawing that draws nothing is refused', () => {
  expect(() => artworkParts(readSvgArtwork(svg('<g/>'), 'x.svg'), 'a', 'Empty', { x: 0, y: 0 })).toThrow(
    'draws nothing',
  )
})

test('scripts and references to outside are left out and said; what is drawn stays', () => {
  const read = (inside: string, head = '') => readSvgArtwork(`${head}${svg(inside)}`, 'x.svg')
  const box = '<rect width="9" height="9" fill="#ff0000"/>'
  for (const [inside, leftOut] of [
    [`<script>alert(1)</script>${box}`, 'a script'],
    [`<g onclick="alert(1)">${box}</g>`, 'a script'],
    [`<image href="https://example.org/a.png" width="9" height="9"/>${box}`, 'a reference to outside'],
    [`<use xlink:href="other.svg#a"/>${box}`, 'a reference to outside'],
    [`<style>@import url("https://example.org/a.css");</style>${box}`, 'a reference to outside'],
    [`<g style="filter:url(https://example.org/f.svg#f)">${box}</g>`, 'a reference to outside'],
    [`<foreignObject><p>hello</p></foreignObject>${box}`, 'foreign content'],
  ] as const) {
    const artwork = read(inside)
    expect(artwork.leftOut).toEqual([leftOut])
    expect(shapesIn(artwork.nodes)).toHaveLength(1)
    expect(artwork.safe).not.toMatch(/example\.org|alert|other\.svg|<p>/)
  }
  expect(read(box, '<?xml-stylesheet href="https://example.org/a.css"?>').leftOut).toEqual(['a reference to outside'])
  // What stays within the file is nobody's business, and a link leads nowhere when it is drawn.
  const harmless = read(
    `<a href="https://example.org">${box}</a><use href="#b"/><image href="data:image/png;base64,AA"/>`,
  )
  expect(harmless.leftOut).toEqual([])
  expect(shapesIn(harmless.nodes)).toHaveLength(1)
})
