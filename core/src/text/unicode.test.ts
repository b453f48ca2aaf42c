import { readFileSync } from 'node:fs'
import { fontFiles } from '../testing/speaker.ts'
import { levelsOf, visualOrder } from './bidi.ts'
import { breaksOf } from './breaks.ts'
import { Font, setText, shapeText } from './index.ts'

/** The Unicode Character Database as Debian's package `unicode-data` carries it; `npm test` installs it. */
const ucd = (path: string) => readFileSync(`/usr/share/unicode/${path}`, 'utf8')
const lines = (path: string) =>
  ucd(path)
    .split('\n')
    .map((line) => line.replace(/#.*/, '').trim())
    .filter(Boolean)
const codePoints = (text: string) => text.split(' ').map((hex) => Number.parseInt(hex, 16))

// BidiCharacterTest.txt, Unicode 15: field 1 gives the paragraph's direction: 0 left to right, 1 right to left, 2 found
// from the text.
test("UAX #9: levels and order of Unicode's BidiCharacterTest", () => {
  const wrong: string[] = []
  let count = 0
  for (const line of lines('BidiCharacterTest.txt')) {
    const [hex, direction, base, levels, order] = line.split(';') as [string, string, string, string, string]
    count++
    const points = codePoints(hex)
    const text = String.fromCodePoint(...points)
    const found = levelsOf(text, direction === '2' ? undefined : direction === '1' ? 'rtl' : 'ltr')
    // By UTF-16 unit here, by code point there; x stands for characters that UAX #9 takes out.
    let at = 0
    const mine = points.map((point) => {
      const level = found.levels?.[at] ?? 0
      at += point > 0xffff ? 2 : 1
      return level
    })
    const expected = levels.split(' ')
    const kept = expected.flatMap((level, i) => (level === 'x' ? [] : [i]))
    const right =
      found.base === Number(base) &&
      kept.every((i) => mine[i] === Number(expected[i])) &&
      visualOrder(kept.map((i) => mine[i]!))
        .map((n) => kept[n])
        .join(' ') === order
    if (!right) wrong.push(line)
  }
  expect(count).toBeGreaterThan(20_000)
  expect(wrong).toEqual([])
})

// A text block carries that order: glyphs of mixed names stand where UAX #9 puts them.
test('the glyphs of a text block stand in the order that UAX #9 gives their characters', () => {
  const bytes = (name: string) => fontFiles.find((file) => file.file.includes(name))!.bytes
  const [latin, arabic] = [new Font(bytes('600SemiBold.ttf'), 'latin'), new Font(bytes('Arabic'), 'arabic')]
  for (const text of ['abc ليلى 12 def', 'ليلى (abc) 34', 'a ل b ي c', '١٢ abc لي']) {
    const block = setText(shapeText([{ text, font: latin, size: 40, tracking: 0, colour: '#000000' }], [arabic]), {
      leading: 1,
      align: 'start',
      fit: [],
    })
    const { levels } = levelsOf(text)
    const order = visualOrder([...text].map((_, i) => levels?.[i] ?? 0))
    const seen = [...block.glyphs].sort((a, b) => a.x - b.x).map((glyph) => glyph.start)
    const expected = order.filter((i) => seen.includes(i))
    expect(seen.filter((start, i) => seen.indexOf(start) === i)).toEqual(expected)
  }
})

/** Line break classes (LineBreak.txt) of the characters that LB25 names. */
const classOf = new Map<number, string>()
for (const line of lines('LineBreak.txt')) {
  const [range, name] = line.split(';').map((piece) => piece.trim()) as [string, string]
  if (!['CL', 'CP', 'PO', 'PR', 'OP', 'IS', 'SY', 'NU'].includes(name)) continue
  const [from, to] = range.split('..').map((hex) => Number.parseInt(hex, 16)) as [number, number?]
  for (let point = from; point <= (to ?? from); point++) classOf.set(point, name)
}

/**
 * LB25 as it stands forbids these breaks; the test file follows Unicode's tailoring of it by a regular expression (UAX
 * #14, 8.2, example 7), which allows them outside of numbers. Hoja keeps the untailored rule: ".35" and "St.12" stay whole.
 */
function isTailored(text: string, at: number): boolean {
  const before = [...text.slice(0, at)].filter((c) => !/\p{M}/u.test(c)).pop()
  const pair = `${classOf.get(before?.codePointAt(0) ?? 0)} ${classOf.get(text.codePointAt(at)!)}`
  return ['CL PO', 'CL PR', 'CP PO', 'CP PR', 'PO OP', 'PR OP', 'IS NU', 'SY NU'].includes(pair)
}

// LineBreakTest.txt, Unicode 15.
test("UAX #14: break opportunities of Unicode's LineBreakTest, LB25 untailored", () => {
  const wrong: string[] = []
  let count = 0
  let tailored = 0
  for (const line of lines('auxiliary/LineBreakTest.txt')) {
    count++
    let text = ''
    const expected: number[] = []
    for (const token of line.split(/\s+/)) {
      if (token === '÷') expected.push(text.length)
      else if (token !== '×') text += String.fromCodePoint(Number.parseInt(token, 16))
    }
    const found = breaksOf(text).map((stop) => stop.at)
    // The end of a text always ends a line; it is not among the opportunities here.
    const inside = expected.filter((at) => at > 0 && at < text.length)
    const want = inside.filter((at) => !isTailored(text, at))
    if (want.length < inside.length) tailored++
    if (found.join() !== want.join()) wrong.push(line)
  }
  expect(count).toBeGreaterThan(7000)
  expect(tailored).toBeLessThan(40)
  expect(wrong).toEqual([])
})
