import fc from 'fast-check'
import { assets } from '../testing/speaker.ts'
import {
  type BlockStyle,
  breaksOf,
  characterStarts,
  levelsOf,
  outlinePath,
  type StyledRun,
  setText,
  shapeText,
  unicodeName,
  visualOrder,
  wordStarts,
} from './index.ts'

const semibold = assets.fonts.get('semibold')!
const fallbacks = ['arabic', 'japanese', 'emoji'].map((id) => assets.fonts.get(id)!)
const run = (text: string, more: Partial<StyledRun> = {}): StyledRun => ({
  text,
  font: semibold,
  size: 50,
  tracking: 0,
  colour: '#ffffff',
  ...more,
})
const plain: BlockStyle = { leading: 1.2, align: 'start', fit: [] }
const set = (text: string, style: Partial<BlockStyle> = {}) =>
  setText(shapeText([run(text)], fallbacks), { ...plain, ...style })

const words = fc
  .array(
    fc.constantFrom('Io', 'von', 'Hollenstein', 'ليلى', 'الساحلي', 'Đặng', '12', '(tide)', '海野', '🦀', 'a-b', 'יעל'),
    { minLength: 1, maxLength: 8 },
  )
  .map((list) => list.join(' '))

test('every character of a text is drawn once, whatever its scripts and directions', () => {
  fc.assert(
    fc.property(words, (text) => {
      const block = set(text)
      // Glyphs of one cluster share a start; clusters cover the text without a gap that is not a mark or a joiner.
      const starts = new Set(block.glyphs.map((g) => g.start))
      for (const start of characterStarts(text))
        if (text[start] !== ' ' && block.missing.length === 0) expect(starts.has(start)).toBe(true)
    }),
  )
})

test('lines cut a text into pieces that follow one another, spaces at their ends aside', () => {
  fc.assert(
    fc.property(words, fc.integer({ min: 60, max: 600 }), (text, room) => {
      const shape = shapeText([run(text)], fallbacks)
      const state = { lines: 6, tracking: 0, condense: 1, shrink: 1 }
      const lines = shape.widths.lines(room, state, false)
      expect(lines.length).toBeLessThanOrEqual(6)
      let at = 0
      for (const line of lines) {
        expect(text.slice(at, line.start).trim()).toBe('')
        expect(line.end).toBeGreaterThanOrEqual(line.start)
        at = line.end
      }
      expect(text.slice(at).trim()).toBe('')
      const opportunities = new Set(breaksOf(text).map((b) => b.at))
      for (const line of lines.slice(1)) expect(opportunities.has(line.start)).toBe(true)
    }),
  )
})

test('a line’s width is the sum of its advances, linear in size, condensing and tracking', () => {
  fc.assert(
    fc.property(
      words,
      fc.double({ min: 0.5, max: 1, noNaN: true }),
      fc.double({ min: 0.3, max: 1, noNaN: true }),
      fc.integer({ min: -50, max: 0 }),
      (text, condense, shrink, tracking) => {
        const { widths } = shapeText([run(text)], fallbacks)
        const at = (state: object) =>
          widths.width(0, text.length, { lines: 1, tracking: 0, condense: 1, shrink: 1, ...state })
        const natural = at({})
        expect(at({ shrink })).toBeCloseTo(natural * shrink, 6)
        expect(at({ condense })).toBeCloseTo(natural * condense, 6)
        expect(natural - at({ tracking })).toBeGreaterThanOrEqual(-1e-9)
        expect(at({ tracking, shrink })).toBeCloseTo(at({ tracking }) * shrink, 6)
      },
    ),
  )
})

test('what is set stands within its width', () => {
  fc.assert(
    fc.property(words, fc.constantFrom('start' as const, 'middle' as const, 'end' as const), (text, align) => {
      const block = set(text, { align, room: 300, fit: [{ step: 'wrap', to: 4 }] })
      for (const glyph of block.glyphs) {
        // Marks may hang a little over the edge; letters don't.
        expect(glyph.x).toBeGreaterThan(-25)
        expect(glyph.x).toBeLessThan(block.fit.width + 25)
      }
      expect(block.boxes.ink.width).toBeGreaterThan(0)
    }),
  )
})

test('visual order is a reordering that leaves left-to-right text as it is', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 4 }), { maxLength: 20 }), (levels) => {
      const order = visualOrder(levels)
      expect([...order].sort((a, b) => a - b)).toEqual(levels.map((_, i) => i))
      if (levels.every((level) => level === 0)) expect(order).toEqual(levels.map((_, i) => i))
      if (levels.length > 0 && levels.every((level) => level === 1))
        expect(order).toEqual(levels.map((_, i) => levels.length - 1 - i))
    }),
  )
})

// Written as UAX #9 writes its examples: capitals stand for right-to-left letters.
test('right-to-left words in a left-to-right line, and numbers in a right-to-left one', () => {
  const text = 'car MEANS CAR.'
  const levels = [...'00001111111110'].map(Number)
  expect(
    visualOrder(levels)
      .map((i) => text[i])
      .join(''),
  ).toBe('car RAC SNAEM.')
  // Numbers keep their direction in right-to-left text (rule W2 and the implicit levels I1, I2).
  expect([...levelsOf('سنة 2026').levels!.slice(4)]).toEqual([2, 2, 2, 2])
})

test('breaks that must be: line feeds, and none at the end', () => {
  expect(breaksOf('one\ntwo').filter((b) => b.must)).toEqual([{ at: 4, must: true }])
  expect(breaksOf('word')).toEqual([])
  expect(wordStarts('')).toEqual([])
  expect(wordStarts('“Gull” Andrade')).toEqual([0, 7])
})

test('outlines are the same text for the same glyphs, and empty for spaces', () => {
  const block = set('Tide')
  expect(outlinePath(block.glyphs)).toBe(outlinePath(set('Tide').glyphs))
  expect(outlinePath(set(' ').glyphs)).toBe('')
  expect(outlinePath(block.glyphs)).toMatch(/^M[-\d. ]+/)
  expect(unicodeName(0x1f980)).toBe('U+1F980')
  expect(unicodeName(0x41)).toBe('U+0041')
})

test('cutting leaves whole characters and an ellipsis, in any script', () => {
  fc.assert(
    fc.property(words, fc.integer({ min: 40, max: 400 }), (text, room) => {
      const block = set(text, { room, fit: [{ step: 'cut' }] })
      if (block.fit.cut === 0) expect(block.text).toBe(text)
      else {
        expect(block.text.endsWith('…')).toBe(true)
        const kept = block.text.slice(0, -1)
        expect(text.startsWith(kept)).toBe(true)
        expect([...characterStarts(text), text.length]).toContain(kept.length)
        if (block.fit.overflow > 0) expect(kept).toBe('')
      }
    }),
  )
})
