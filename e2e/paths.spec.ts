import { readFileSync } from 'node:fs'
import { Scene } from '@hoja/core/scene'
import { fullStyle, newPart, newTemplate, type Part, type Template } from '@hoja/core/template'
import { Font } from '@hoja/core/text'
import { expect, test } from './test.ts'

const file = 'demo/templates/speaker/fonts/BarlowCondensed_600SemiBold.ttf'
const bytes = readFileSync(file)
const size = 48
const [left, top, width, height] = [100, 300, 900, 400]

/** Ways as shares of their box, and as SVG path data of that box. */
const ways: Record<string, { points: { x: number; y: number; in?: [number, number]; out?: [number, number] }[] }> = {
  straight: {
    points: [
      { x: 0, y: 1 },
      { x: 1, y: 0.2 },
    ],
  },
  arch: {
    points: [
      { x: 0, y: 1, out: [0.1, -0.9] },
      { x: 1, y: 1, in: [-0.1, -0.9] },
    ],
  },
  wave: {
    points: [
      { x: 0, y: 0.5, out: [0.2, -0.6] },
      { x: 0.5, y: 0.5, in: [-0.2, 0.6], out: [0.2, -0.6] },
      { x: 1, y: 0.5, in: [-0.2, 0.6] },
    ],
  },
}

function pathData(name: string): string {
  const { points } = ways[name]!
  const x = (share: number) => left + share * width
  const y = (share: number) => top + share * height
  return points
    .map((point, i) => {
      if (i === 0) return `M${x(point.x)},${y(point.y)}`
      const before = points[i - 1]!
      const [ox, oy] = before.out ?? [0, 0]
      const [ix, iy] = point.in ?? [0, 0]
      const curve = before.out || point.in
      return curve
        ? `C${x(before.x + ox)},${y(before.y + oy)} ${x(point.x + ix)},${y(point.y + iy)} ${x(point.x)},${y(point.y)}`
        : `L${x(point.x)},${y(point.y)}`
    })
    .join(' ')
}

function templateWith(name: string, words: string, start: number): Template {
  const template = newTemplate('way', 'Way')
  const fixed = (place: number, value: number) => ({ ties: [], size: { kind: 'fixed' as const, value }, place })
  const way = { ...newPart('path', 'way', 'Way'), x: fixed(left, width), y: fixed(top, height) } as Part
  const text = newPart('text', 'text', 'Text')
  return {
    ...template,
    fonts: [{ id: 'bold', family: 'Barlow Condensed', style: 'SemiBold', file, sha256: '' }],
    parts: [
      { ...way, style: { outlines: [{ ...ways[name]!, closed: false }] } } as Part,
      { ...text, style: { content: [{ text: words }], font: 'bold', size, along: 'way', alongStart: start } } as Part,
    ],
  }
}

/** Where the characters of a text along a way begin, and their turn, as Hoja draws them. */
function ours(name: string, words: string, start: number): { x: number; y: number; angle: number }[] {
  const template = templateWith(name, words, start)
  const scene = new Scene(template, {
    fonts: new Map([['bold', new Font(new Uint8Array(bytes), file)]]),
    picture: () => undefined,
    movie: () => undefined,
  })
  const layout = scene.layout({})
  const index = layout.rest.order.index.get('text')!
  const drawings = scene.drawings(layout)
  const along = drawings.wayOf(layout.rest.order.parts[index]!, layout.rest)!
  return layout.blocks[index]!.glyphs.map((glyph) => {
    const [x, y, angle] = drawings.standing(index, glyph, along.way)
    const by = -glyph.advance / 2
    const [a, b, c, d, e, f] = along.map
    const [px, py] = [x + Math.cos(angle) * by, y + Math.sin(angle) * by]
    return { x: a * px + c * py + e, y: b * px + d * py + f, angle: (angle * 180) / Math.PI }
  })
}

test('letters along a way stand where the browser puts them on an SVG text path', async ({ page }) => {
  expect(fullStyle('text', {}).alongTurns).toBe('turn with the way')
  const font = `data:font/ttf;base64,${bytes.toString('base64')}`
  let compared = 0
  for (const name of Object.keys(ways))
    for (const [words, start] of [
      ['round the mill at low tide', 0],
      ['AVATAR, Wake To Yarrow', 0.2],
      ['Ngọc Ánh – Đặng', 0.35],
    ] as const) {
      await page.setContent(
        `<style>@font-face{font-family:way;src:url(${font})}</style>
         <svg width="1200" height="900"><path id="p" fill="none" d="${pathData(name)}"/>
         <text style="font:${size}px way;text-rendering:geometricPrecision"><textPath href="#p" startOffset="${start * 100}%">${words}</textPath></text></svg>`,
      )
      const theirs = await page.evaluate(async (count) => {
        await document.fonts.load('48px way')
        await document.fonts.ready
        const text = document.querySelector('text')!
        return Array.from({ length: count }, (_, i) => {
          const { x, y } = text.getStartPositionOfChar(i)
          return { x, y, angle: text.getRotationOfChar(i) }
        })
      }, words.length)
      // The browser counts in 64ths of a px, and measures a curve by chords that leave it a little.
      const within = (i: number) => (name === 'straight' ? 0.1 : 0.4) + i / 64
      ours(name, words, start).forEach((own, i) => {
        const other = theirs[i]!
        expect(Math.hypot(own.x - other.x, own.y - other.y), `${name}: ${words}, character ${i}`).toBeLessThan(
          within(i),
        )
        const turn = Math.abs(((own.angle - other.angle + 540) % 360) - 180)
        expect(turn, `${name}: ${words}, turn of character ${i}`).toBeLessThan(1)
        compared++
      })
    }
  expect(compared).toBeGreaterThan(150)
})
