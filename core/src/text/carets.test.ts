import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { fontFiles } from '../testing/speaker.ts'
import { levelsOf, visualOrder } from './bidi.ts'
import { type Caret, Carets, Font, setText, shapeText } from './index.ts'

const bytes = (name: string) => fontFiles.find((file) => file.file.includes(name))!.bytes
const [latin, arabic] = [new Font(bytes('600SemiBold.ttf'), 'latin'), new Font(bytes('Arabic'), 'arabic')]
const set = (
  text: string,
  more: { room?: number; align?: 'start' | 'middle' | 'end'; direction?: 'ltr' | 'rtl' } = {},
) =>
  setText(shapeText([{ text, font: latin, size: 40, tracking: 20, colour: '#000000' }], [arabic], more.direction), {
    leading: 1.2,
    align: more.align ?? 'start',
    fit: more.room === undefined ? [] : [{ step: 'wrap', to: 9 }],
    ...(more.room === undefined ? {} : { room: more.room }),
  })
const carets = (...given: Parameters<typeof set>) => new Carets(set(...given))
/** Every offset that one step after another comes to, until it stays. */
function walk(own: Carets, from: Caret, step: 'left' | 'right'): number[] {
  const found = [from.offset]
  for (let at = from, i = 0; i < 200; i++) {
    const next = own.move(at, step)
    if (next.offset === at.offset && next.side === at.side) break
    found.push(next.offset)
    at = next
  }
  return found
}

// Unicode 15, auxiliary/GraphemeBreakTest.txt: ÷ is a boundary, × is none.
test("a caret stands wherever Unicode's GraphemeBreakTest has a boundary, and nowhere else", () => {
  const wrong: string[] = []
  let count = 0
  for (const line of readFileSync('/usr/share/unicode/auxiliary/GraphemeBreakTest.txt', 'utf8').split('\n')) {
    const tokens = line.replace(/#.*/, '').trim().split(/\s+/).filter(Boolean)
    if (tokens.length === 0) continue
    let text = ''
    const boundaries: number[] = []
    for (const token of tokens) {
      if (token === '÷') boundaries.push(text.length)
      else if (token !== '×') text += String.fromCodePoint(Number.parseInt(token, 16))
    }
    // Line feeds part lines, where a caret goes by lines; other controls are never drawn.
    if (/[\u0000-\u001f\u007f-\u009f\u2028\u2029]/.test(text) || levelsOf(text).levels) continue
    // U+2701 is a pictograph in Unicode 15 and none any more in the Unicode that engines carry now.
    if (text.includes('\u2701')) continue
    count++
    const own = carets(text)
    if (walk(own, own.from(0), 'right').join() !== boundaries.join()) wrong.push(line)
  }
  expect(count).toBeGreaterThan(100)
  expect(wrong).toEqual([])
})

// Unicode 15, BidiCharacterTest.txt through `levelsOf`, which is held against it: here the way of a caret over it.
test('going right passes the characters in the order that UAX #9 shows them, each once, and going left comes back', () => {
  const letters = fc.constantFrom('a', 'b', 'é', 'ل', 'ي', 'ب', '1', '٢', ' ', '(', 'ffi')
  fc.assert(
    fc.property(fc.array(letters, { minLength: 1, maxLength: 12 }), (list) => {
      const text = list.join('').trim()
      fc.pre(text !== '' && !text.includes('لا'))
      const own = carets(text)
      const { levels } = levelsOf(text)
      const order = visualOrder([...text].map((_, i) => levels?.[i] ?? 0))
      const left = own.at(-100, 0)
      let at = left
      const passed = order.map((i) => {
        at = own.move(at, 'right')
        const rtl = (levels?.[i] ?? 0) % 2 === 1
        return at.offset === (rtl ? i : i + 1) && at.side === (rtl ? 'after' : 'before')
      })
      expect(passed).toEqual(order.map(() => true))
      expect(own.move(at, 'right')).toEqual(at)
      const xs = [own.place(at).x]
      for (let n = 0; n < order.length; n++) {
        at = own.move(at, 'left')
        xs.push(own.place(at).x)
      }
      expect(own.place(at).x).toBeCloseTo(own.place(left).x, 9)
      expect(xs).toEqual(xs.toSorted((a, b) => b - a))
    }),
  )
})

test('a press comes to the caret that stands nearest, and every caret is found where it stands', () => {
  const texts = fc.constantFrom('Io Marrec', 'abc ليلى 12 def', 'ليلى (abc) 34', 'office flags', 'One\n\nthree', 'a\n')
  fc.assert(
    fc.property(texts, fc.constantFrom('start' as const, 'middle' as const, 'end' as const), (text, align) => {
      const own = carets(text, { align })
      for (let offset = 0; offset <= text.length; offset++)
        for (const side of ['before', 'after'] as const) {
          const { x, top, height } = own.place({ offset, side })
          const found = own.at(x + 0.001, top + height / 2)
          expect(Math.abs(own.place(found).x - x)).toBeLessThan(0.01)
          expect(own.place(found).top).toBe(top)
        }
    }),
  )
})

test('what is chosen is covered, once: the boxes of two halves are those of the whole', () => {
  const area = (own: Carets, from: number, to: number) => own.boxes(from, to).reduce((sum, box) => sum + box.width, 0)
  for (const text of ['Io Marrec', 'abc ليلى 12 def', 'office\nflags', 'ليلى']) {
    const own = carets(text)
    for (let at = 0; at <= text.length; at++)
      expect(area(own, 0, at) + area(own, at, text.length)).toBeCloseTo(area(own, 0, text.length), 6)
  }
  // One stretch of letters written to the left lies apart in what is written to the right, and the other way round.
  expect(carets('abc ليلى def').boxes(2, 6)).toHaveLength(2)
})

test('lines: up and down keep to where they began, home and end stay in the line, spaces hang behind it', () => {
  const own = carets('Harbour pilot of the estuary', { room: 300 })
  const first = own.lineOf({ offset: 0, side: 'after' })
  expect(first[1]).toBeGreaterThan(8)
  const end = own.move({ offset: 0, side: 'after' }, 'line end')
  const start = own.move({ offset: first[1], side: 'after' }, 'line start')
  expect([end.offset, start.offset]).toEqual([first[1], first[1]])
  // The same offset is the end of one line and the beginning of the next.
  expect(own.place(end).top).toBeLessThan(own.place(start).top)
  const down = own.move({ offset: 4, side: 'after' }, 'down')
  expect(own.move(down, 'up', own.place({ offset: 4, side: 'after' }).x).offset).toBe(4)
  expect(own.move({ offset: 2, side: 'after' }, 'up').offset).toBe(0)
  const feed = carets('One\n\nthree')
  expect([feed.move(feed.from(0), 'line end').offset, feed.move(feed.from(3), 'down').offset]).toEqual([3, 4])
  expect(walk(feed, feed.from(0), 'right')).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10])
  const spaced = carets('Io ')
  expect(spaced.place(spaced.from(3)).x).toBeGreaterThan(spaced.place(spaced.from(2)).x + 5)
  const rtl = carets('ليلى ')
  expect(rtl.place(rtl.from(5)).x).toBeLessThan(rtl.place(rtl.from(4)).x - 5)
})

test('words are gone over and chosen as UAX #29 counts them; ligatures are entered', () => {
  const own = carets('Harbour pilot, 34')
  expect(own.word(3)).toEqual([0, 7])
  expect(own.word(7)).toEqual([0, 7])
  expect(own.move(own.from(0), 'word right').offset).toBe(8)
  expect(own.move(own.from(10), 'word left').offset).toBe(8)
  const rtl = carets('ليلى بدر')
  expect(rtl.move(rtl.from(0), 'word left').offset).toBe(5)
  const office = carets('office')
  const xs = [0, 1, 2, 3, 4, 5, 6].map((offset) => office.place(office.from(offset)).x)
  expect(xs).toEqual(xs.toSorted((a, b) => a - b))
  expect(new Set(xs).size).toBe(7)
  expect(carets('').place({ offset: 0, side: 'after' }).height).toBeGreaterThan(40)
})
