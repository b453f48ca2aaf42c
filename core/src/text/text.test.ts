import { createCanvas, GlobalFonts } from '@napi-rs/canvas'
import fc from 'fast-check'
import * as fontkit from 'fontkit'
import { assets, fontFiles } from '../testing/speaker.ts'
import {
  type BlockStyle,
  characterCount,
  Font,
  levelsOf,
  type StyledRun,
  setText,
  shapeText,
  visualOrder,
  wordStarts,
} from './index.ts'

const fonts = fontFiles.map(({ file, bytes }) => ({ file, bytes, font: new Font(bytes, file) }))
const semibold = assets.fonts.get('semibold')!
const fallbacks = ['arabic', 'japanese', 'emoji'].map((id) => assets.fonts.get(id)!)
const run = (text: string, more: Partial<StyledRun> = {}): StyledRun => ({
  text,
  font: semibold,
  size: 100,
  tracking: 0,
  colour: '#ffffff',
  ...more,
})
const plain: BlockStyle = { leading: 1.2, align: 'start', fit: [] }
const set = (text: string, style: Partial<BlockStyle> = {}, more: Partial<StyledRun> = {}) =>
  setText(shapeText([run(text, more)], fallbacks), { ...plain, ...style })

const hard = [
  'AVATAR To. "Wa" fi ffl',
  'Íñigo Quéré-Świętosława',
  'Ngọc Ánh Đặng',
  'ليلى الساحلي',
  'باحثة في المد والجزر',
  '海野 さくら',
  '潮汐研究員',
  '1/2 (0.5) — 100 %',
  'x',
  'Maximiliana Theodora von Hollenstein',
  '🦀🐟⚓',
]

// Two implementations of OpenType layout that share no code with ours: fontkit, and Skia through the raster library.
test.each(fonts.map((f) => [f.file, f] as const))(
  'widths of %s agree with fontkit and with the raster library within 0.05 px at 100 px',
  (file, { font, bytes }) => {
    const kit = fontkit.create(Buffer.from(bytes))
    const family = `check-${file}`
    GlobalFonts.register(Buffer.from(bytes), family)
    const context = createCanvas(10, 10).getContext('2d')
    context.font = `100px "${family}"`
    let compared = 0
    for (const text of hard) {
      if (![...text].every((c) => font.covers(c.codePointAt(0)!))) continue
      const ours = setText(shapeText([run(text, { font })], []), plain).fit.width
      expect(Math.abs(ours - (kit.layout(text).advanceWidth / kit.unitsPerEm) * 100)).toBeLessThan(0.05)
      expect(Math.abs(ours - context.measureText(text).width)).toBeLessThan(0.05)
      compared++
    }
    expect(compared).toBeGreaterThan(0)
  },
)

test('the three boxes: line is steady, cap stands on the baseline, ink is what is drawn', () => {
  const [short, deep] = [set('noon'), set('Ágjpy')]
  expect(short.boxes.line.height).toBe(deep.boxes.line.height)
  expect(short.boxes.line.height).toBeCloseTo(120, 6)
  expect(short.boxes.cap).toEqual({ x: 0, y: -70, width: short.fit.width, height: 70 })
  expect(deep.boxes.ink.height).toBeGreaterThan(short.boxes.ink.height)
  expect(short.boxes.ink.x).toBeGreaterThan(0)
})

test('tracking stands between characters, not behind the last', () => {
  expect(set('abcd', {}, { tracking: 50 }).fit.width - set('abcd').fit.width).toBeCloseTo(15, 6)
})

// UAX #14: a line may end after a space and after a hyphen, never before a full stop.
test('wraps where UAX #14 lets it, no line wider than the room', () => {
  const block = set('Salt-marsh ecologist, Vado Institute', { room: 700, fit: [{ step: 'wrap', to: 3 }] })
  expect(block.lineCount).toBe(3)
  expect(block.fit.overflow).toBe(0)
  expect(block.fit.width).toBeLessThanOrEqual(700)
  expect(block.boxes.line.height).toBeCloseTo(120 + 2 * 120, 6)
  expect(set('one\ntwo').lineCount).toBe(2)
})

// UAX #9, rule L2, and its section 3.4 example of reversal by levels.
test('orders by embedding levels', () => {
  expect(visualOrder([0, 1, 1, 0])).toEqual([0, 2, 1, 3])
  expect(visualOrder([1, 2, 2, 1])).toEqual([3, 1, 2, 0])
  expect(levelsOf('abc').base).toBe(0)
  expect(levelsOf('ليلى').base).toBe(1)
  const mixed = set('ليلى 12 abc')
  const left = (character: string) =>
    Math.min(...mixed.glyphs.filter((g) => g.start === mixed.text.indexOf(character)).map((g) => g.x))
  // A right-to-left paragraph starts at its right end; digits and Latin inside keep their own direction.
  expect(mixed.direction).toBe('rtl')
  expect(left('ل')).toBeGreaterThan(left('1'))
  expect(left('1')).toBeLessThan(left('2'))
  expect(left('1')).toBeGreaterThan(left('a'))
})

test('aligns at the reading side unless told otherwise', () => {
  const left = (text: string, align: 'start' | 'end') => {
    const block = set(text, { align, room: 2000 })
    return block.glyphs.filter((g) => g.line === 1).reduce((m, g) => Math.min(m, g.x), 1e9)
  }
  expect(left('a long first line\nb', 'start')).toBe(0)
  expect(left('a long first line\nb', 'end')).toBeGreaterThan(400)
  expect(left('سطر أول طويل جدا\nب', 'start')).toBeGreaterThan(100)
})

test('missing characters go to the fallbacks, then are named', () => {
  const block = set('Tam 海 🦀')
  expect(block.missing).toEqual([])
  expect(new Set(block.glyphs.map((g) => g.font)).size).toBe(3)
  const none = set('a\u{1319D}b')
  expect(none.missing).toEqual(['U+1319D'])
  expect(none.glyphs).toHaveLength(3)
  expect(set('soft\u00adhyphen\u200b').missing).toEqual([])
})

test('styled runs are one text', () => {
  const medium = assets.fonts.get('medium')!
  const both = setText(
    shapeText([run('Ana '), run('Ibáñez', { font: medium, size: 60, colour: '#ff0000' })], []),
    plain,
  )
  expect(both.fit.width).toBeCloseTo(
    set('Ana n').fit.width - set('n').fit.width + set('Ibáñez', {}, { font: medium, size: 60 }).fit.width,
    4,
  )
  expect(new Set(both.glyphs.map((g) => g.colour))).toEqual(new Set(['#ffffff', '#ff0000']))
  expect(both.boxes.line.height).toBeCloseTo(120, 6)
})

test('fit steps run in their order, each only as far as needed, and are reported', () => {
  const natural = set('Maximiliana Theodora').fit.natural
  const fit: BlockStyle['fit'] = [
    { step: 'tighten', to: -20 },
    { step: 'condense', to: 0.9 },
    { step: 'shrink', to: 0.8 },
  ]
  expect(set('Maximiliana Theodora', { room: natural, fit }).fit.steps).toEqual([])
  const little = set('Maximiliana Theodora', { room: natural - 10, fit })
  expect(little.fit.steps.map((s) => s.step)).toEqual(['tighten'])
  expect(little.fit.steps[0]!.used).toBeLessThan(0.4)
  expect(natural - 10 - little.fit.width).toBeLessThan(0.5)
  const much = set('Maximiliana Theodora', { room: natural * 0.8, fit })
  expect(much.fit.steps.map((s) => [s.step, Math.round(s.used * 100) / 100])).toEqual([
    ['tighten', 1],
    ['condense', 1],
    ['shrink', expect.closeTo(0.5, 0)],
  ])
  expect(much.size).toBeLessThan(100)
  const over = set('Maximiliana Theodora', { room: 100, fit })
  expect(over.fit.overflow).toBeGreaterThan(100)
  const cut = set('Maximiliana Theodora', { room: 400, fit: [{ step: 'cut' }] })
  expect(cut.text.endsWith('…')).toBe(true)
  expect(cut.fit.width).toBeLessThanOrEqual(400)
  expect(cut.fit.cut).toBe(20 - (cut.text.length - 1))
})

test('fitting never runs past its room while it says that it fits, and a wider room never shrinks more', () => {
  const words = fc.array(fc.constantFrom('Io', 'von', 'Hollenstein', 'ليلى', 'Đặng', 'tide', '海野', 'a-b'), {
    minLength: 1,
    maxLength: 6,
  })
  fc.assert(
    fc.property(words, fc.integer({ min: 80, max: 1500 }), fc.boolean(), (list, room, wraps) => {
      const fit: BlockStyle['fit'] = [
        ...(wraps ? [{ step: 'wrap' as const, to: 2 }] : []),
        { step: 'tighten', to: -10 },
        { step: 'condense', to: 0.85 },
        { step: 'shrink', to: 0.6 },
      ]
      const block = set(list.join(' '), { room, fit })
      if (block.fit.overflow === 0) expect(block.fit.width).toBeLessThanOrEqual(room + 1e-6)
      else expect(block.fit.width).toBeGreaterThan(room)
      expect(block.lineCount).toBeLessThanOrEqual(2)
      expect(set(list.join(' '), { room: room * 1.2, fit }).size).toBeGreaterThanOrEqual(block.size - 1e-9)
    }),
    { numRuns: 200 },
  )
})

test('counts characters and words as UAX #29 does', () => {
  expect(characterCount('Ngọc')).toBe(4)
  expect(characterCount('e\u0301a')).toBe(2)
  expect(characterCount('👩‍🔬!')).toBe(2)
  expect(wordStarts('salt, marsh')).toEqual([0, 6])
})

test('a font that is no font is refused in one sentence', () => {
  expect(() => new Font(new Uint8Array([1, 2, 3]), 'a.ttf')).toThrow('"a.ttf" is not a TrueType or OpenType font')
  const broken = fontFiles[0]!.bytes.slice(0, 400)
  expect(() => new Font(broken, 'b.ttf')).toThrow('"b.ttf" is a font without characters or outlines')
})

describe('a text that fills its room', () => {
  const fill = (share: number, least: number, most: number, more: BlockStyle['fit'] = []) =>
    [{ step: 'fill', share, least, most }, ...more] as BlockStyle['fit']

  test('takes that share of it, whatever it says, between its bounds', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...hard.filter((text) => text !== 'x')),
        fc.double({ min: 100, max: 3000, noNaN: true }),
        fc.double({ min: 0.2, max: 1, noNaN: true }),
        (said, room, share) => {
          const natural = set(said).fit.width
          const block = set(said, { room, fit: fill(share, 0.05, 20) })
          const factor = (share * room) / natural
          if (factor >= 0.05 && factor <= 20) {
            expect(block.fit.width).toBeCloseTo(share * room, 6)
            expect(block.size).toBeCloseTo(100 * factor, 6)
          }
          expect(block.fit.overflow).toBe(0)
          // Every glyph grows alike, and so does what it shows others.
          expect(block.boxes.line.height / set(said).boxes.line.height).toBeCloseTo(block.size / 100, 6)
        },
      ),
    )
  })

  test('common practice: at 80 % of its container the shortest and the longest word are as wide', () => {
    const widths = ['i', 'Mar', 'Estuary', 'Salt-marsh ecologist'].map(
      (text) => set(text, { room: 900, fit: fill(0.8, 0.05, 20) }).fit.width,
    )
    for (const width of widths.slice(1)) expect(width).toBeCloseTo(720, 6)
  })

  test('stops at its bounds: grows no further, and is shortened by the other steps where it may shrink no further', () => {
    expect(set('Mar', { room: 5000, fit: fill(1, 0.5, 2) }).size).toBe(200)
    const long = 'Maximiliana Theodora von Hollenstein'
    const bounded = set(long, { room: 300, fit: fill(1, 0.5, 2) })
    expect(bounded.size).toBe(50)
    expect(bounded.fit.overflow).toBeGreaterThan(0)
    expect(bounded.fit.steps).toEqual([{ step: 'fill', from: 1, to: 0.5, bound: 0.5, used: 1 }])
    const shrunk = set(long, { room: 300, fit: fill(1, 0.5, 2, [{ step: 'shrink', to: 0.1 }]) })
    expect(shrunk.fit.overflow).toBe(0)
    // Free of any room it stands in its own size.
    expect(set(long, { fit: fill(1, 0.5, 2) }).size).toBe(100)
  })
})

describe('a text that fills a box', () => {
  const both = (by: 'height' | 'both', more: BlockStyle['fit'] = []): BlockStyle['fit'] => [
    { step: 'fill', share: 1, least: 0.05, most: 20, by },
    ...more,
  ]
  const sides = fc.record({
    room: fc.double({ min: 200, max: 2000, noNaN: true }),
    height: fc.double({ min: 60, max: 1200, noNaN: true }),
  })

  test('is as large as its height allows, or as both of its sides do', () => {
    fc.assert(
      fc.property(sides, fc.constantFrom('Mar', 'Estuary Week', 'Salt-marsh ecologist'), ({ room, height }, said) => {
        const own = set(said)
        const [down, across] = [height / own.boxes.line.height, room / own.fit.width]
        const factors = { height: down, both: Math.min(down, across) }
        for (const by of ['height', 'both'] as const) {
          const factor = Math.min(20, Math.max(0.05, factors[by]))
          expect(set(said, { room, height, fit: both(by) }).shrink).toBeCloseTo(factor, 6)
        }
      }),
    )
  })

  test('in as many lines as make it largest: it stays in its box, and a hundredth larger does not', () => {
    const words = fc
      .array(fc.constantFrom('a', 'tide', 'marsh', 'ecologist', 'Brisal'), { minLength: 3, maxLength: 12 })
      .map((list) => list.join(' '))
    fc.assert(
      fc.property(sides, words, ({ room, height }, said) => {
        const fit = both('both', [{ step: 'wrap', to: 12 }])
        const block = set(said, { room, height, fit })
        expect(block.fit.overflow).toBe(0)
        expect(block.fit.width).toBeLessThanOrEqual(room + 1e-6)
        expect(block.boxes.line.height).toBeLessThanOrEqual(height + 1e-6)
        const one = set(said, { room, height, fit: both('both') })
        expect(block.shrink).toBeGreaterThanOrEqual(one.shrink - 1e-4)
        const larger = set(said, { room, fit: [{ step: 'wrap', to: 12 }] }, { size: block.size * 1.01 })
        const isPast = larger.fit.width > room || larger.boxes.line.height > height || block.shrink > 19.8
        expect([said, room, height, isPast]).toEqual([said, room, height, true])
      }),
    )
  })

  test('is at most as large as the others of its group', () => {
    expect(set('Mar', { most: 0.6 }).size).toBe(60)
    expect(set('Mar', { room: 5000, fit: [{ step: 'fill', share: 1, least: 0.1, most: 9 }], most: 1.5 }).size).toBe(150)
    const shrunk = set('Salt-marsh ecologist', { room: 300, fit: [{ step: 'shrink', to: 0.1 }], most: 0.9 })
    expect(shrunk.fit.overflow).toBe(0)
    expect(shrunk.size).toBeCloseTo(
      set('Salt-marsh ecologist', { room: 300, fit: [{ step: 'shrink', to: 0.1 }] }).size,
      1,
    )
  })
})

test('justified lines are as long as their room but for the last, and but for those that were written so', () => {
  const said = 'The salt marsh keeps the time of the moon\nand the ferry keeps its own'
  const block = set(said, { room: 900, fit: [{ step: 'wrap', to: 9 }], align: 'justified' })
  const ends = block.lines.map(({ start, end, x, width }, i) => {
    const own = block.glyphs.filter(({ line }) => line === i)
    const last = own.at(-1)!
    expect([x, own[0]!.x]).toEqual([0, 0])
    expect(last.x + last.advance).toBeCloseTo(width, 6)
    return [said.slice(start, end), width > 899.999]
  })
  expect(ends.at(-1)![1]).toBe(false)
  for (const [line, isFull] of ends.slice(0, -1)) expect([line, isFull]).toEqual([line, !String(line).endsWith('moon')])
  expect(block.fit.width).toBeCloseTo(900, 6)
  // Only its spaces grew.
  const plain = set(said, { room: 900, fit: [{ step: 'wrap', to: 9 }] })
  expect(block.glyphs.map(({ id, line }) => [id, line])).toEqual(plain.glyphs.map(({ id, line }) => [id, line]))
  expect(block.clusters.filter(({ line }) => line === 0).at(-1)!.right).toBeGreaterThan(890)
})

describe('lines of a text that takes several', () => {
  const long = 'The salt marsh keeps the time of the moon and the ferry keeps its own'
  const wrap: BlockStyle['fit'] = [{ step: 'wrap', to: 6 }]
  const words = fc
    .array(fc.constantFrom('a', 'of', 'tide', 'marsh', 'ferry', 'ecologist', 'Brisal'), { minLength: 4, maxLength: 14 })
    .map((list) => list.join(' '))
  const rooms = fc.double({ min: 300, max: 1500, noNaN: true })
  const linesOf = (text: string, room: number, breaks: BlockStyle['breaks']) => {
    const block = set(text, { room, fit: wrap, ...(breaks ? { breaks } : {}) })
    return block.lines.map(({ start, end, width }) => ({ said: text.slice(start, end), width }))
  }

  test('balanced: as many lines, the longest as short as it can be, nothing lost', () => {
    fc.assert(
      fc.property(words, rooms, (text, room) => {
        const [plain, even] = [linesOf(text, room, undefined), linesOf(text, room, 'balanced')]
        expect(even).toHaveLength(plain.length)
        expect(even.map(({ said }) => said).join(' ')).toBe(plain.map(({ said }) => said).join(' '))
        const longest = Math.max(...even.map(({ width }) => width))
        expect(longest).toBeLessThanOrEqual(Math.max(...plain.map(({ width }) => width)) + 1e-6)
        // No room that is a pixel narrower than its longest line takes as few lines, if that is not one long word.
        const isBreakable = even.find(({ width }) => width === longest)!.said.includes(' ')
        if (even.length > 1 && plain.length < 6 && isBreakable)
          expect(linesOf(text, longest - 1, undefined).length).toBeGreaterThan(even.length)
      }),
    )
    const spread = (lines: { width: number }[]) =>
      Math.max(...lines.map(({ width }) => width)) - Math.min(...lines.map(({ width }) => width))
    expect(spread(linesOf(long, 1000, 'balanced'))).toBeLessThan(spread(linesOf(long, 1000, undefined)))
  })

  test('no widow: the last line has two words where that is possible in as many lines; else it is as it comes', () => {
    let helped = 0
    fc.assert(
      fc.property(words, rooms, (text, room) => {
        const [plain, kept] = [linesOf(text, room, undefined), linesOf(text, room, 'no widow')]
        const isWidow = (lines: { said: string }[]) => lines.length > 1 && !lines.at(-1)!.said.includes(' ')
        expect(kept).toHaveLength(plain.length)
        if (!isWidow(plain)) expect(kept).toEqual(plain)
        if (isWidow(kept)) expect(kept).toEqual(plain)
        if (isWidow(plain) && !isWidow(kept)) helped++
      }),
      { numRuns: 300 },
    )
    expect(helped).toBeGreaterThan(5)
  })
})
