import fc from 'fast-check'
import { create } from 'fontkit'
import { Blob, Face, Buffer as GlyphBuffer, Font as HbFont, shape, Variation } from 'harfbuzzjs'
import { assets } from '../testing/speaker.ts'
import { variable, variableBytes } from '../testing/variable.ts'
import { type BlockStyle, type StyledRun, setText, shapeText } from './index.ts'

const run = (text: string, font = variable, size = 100): StyledRun => ({
  text,
  font,
  size,
  tracking: 0,
  colour: '#ffffff',
})
const plain: BlockStyle = { leading: 1.2, align: 'start', fit: [] }
const arabic = assets.fonts.get('arabic')!
const set = (runs: StyledRun[], style: Partial<BlockStyle> = {}) =>
  setText(shapeText(runs, [arabic]), { ...plain, ...style })
const widthOf = (text: string, font = variable) => set([run(text, font)]).fit.width

const words = ['AVATAR To. "Wa" fi ffl', 'Boats run until nine', 'Quéré & Øster', '1/2 (0.5) — 100 %']
const places = fc.record({
  wght: fc.integer({ min: 100, max: 1000 }),
  wdth: fc.integer({ min: 25, max: 151 }),
  opsz: fc.integer({ min: 8, max: 144 }),
  slnt: fc.integer({ min: -10, max: 0 }),
  GRAD: fc.integer({ min: -200, max: 150 }),
})

describe('a variable font', () => {
  test('tells its axes as its file does (OpenType 1.9, fvar)', () => {
    const told = Object.fromEntries(
      variable.axes.map(({ tag, least, standing, most }) => [tag, [least, standing, most]]),
    )
    const kit = create(Buffer.from(variableBytes))
    const axes = Object.entries<{ min: number; default: number; max: number }>(kit.variationAxes)
    expect(told).toEqual(Object.fromEntries(axes.map(([tag, one]) => [tag, [one.min, one.default, one.max]])))
    expect(axes.length).toBeGreaterThan(10)
    expect(assets.fonts.get('semibold')!.axes).toEqual([])
  })

  // fontkit reads gvar, HVAR and avar by itself; HarfBuzz is asked in its own way, at its own finest scale.
  test('is as wide at any place on its axes as in fontkit and in HarfBuzz, within 0.05 px at 100 px', () => {
    const kit = create(Buffer.from(variableBytes))
    const hb = new HbFont(new Face(new Blob(variableBytes)))
    const scale = 1 << 20
    hb.setScale(scale, scale)
    const alone = (text: string, at: Record<string, number>) => {
      hb.setVariations(Object.entries(at).map(([tag, value]) => new Variation(tag, value)))
      const buffer = new GlyphBuffer()
      buffer.addText(text)
      buffer.guessSegmentProperties()
      shape(hb, buffer)
      return (buffer.getGlyphPositions().reduce((sum, { xAdvance }) => sum + xAdvance, 0) / scale) * 100
    }
    fc.assert(
      fc.property(places, fc.constantFrom(...words), (at, text) => {
        const ours = widthOf(text, variable.at(at))
        expect(Math.abs(ours - alone(text, at))).toBeLessThan(0.05)
        // Character by character: fontkit leaves out how kerning varies.
        for (const character of new Set(text.replaceAll(' ', ''))) {
          const theirs = kit.getVariation(at).layout(character).advanceWidth / kit.unitsPerEm
          expect(Math.abs(widthOf(character, variable.at(at)) - theirs * 100)).toBeLessThan(0.05)
        }
      }),
      { numRuns: 150 },
    )
  })

  // fontkit rounds to units of the font, 0.05 px here, what each master adds to a point before it adds them up, and the
  // sum again: half a unit for each of a dozen.
  test('draws at any place what fontkit draws, within 0.3 px at 100 px', () => {
    const kit = create(Buffer.from(variableBytes))
    fc.assert(
      fc.property(places, fc.constantFrom(...'HagQ&é8'), (at, character) => {
        const font = variable.at(at)
        const glyph = font.hb.nominalGlyph(character.codePointAt(0)!)!
        const ink = font.ink(glyph)
        const box = kit.getVariation(at).getGlyph(glyph).path.cbox
        const px = (value: number, em: number) => (value / em) * 100
        const ours = [ink.x, ink.y + ink.height, ink.x + ink.width, ink.y].map((value) => px(value, font.unitsPerEm))
        const theirs = [box.minX, box.minY, box.maxX, box.maxY].map((value) => px(value, kit.unitsPerEm))
        for (const [i, value] of ours.entries()) expect(Math.abs(value - theirs[i]!)).toBeLessThan(0.3)
      }),
      { numRuns: 60 },
    )
  })

  test('is one font wherever it stands: held within its axes, asked twice the same, other axes as they were', () => {
    expect(variable.at({ wght: 5000 }).standing.wght).toBe(1000)
    expect(variable.at({ wdth: 1 }).standing.wdth).toBe(25)
    expect(variable.at({ wght: 640 })).toBe(variable.at({ wght: 640 }))
    expect(variable.at({ wght: 640 }).at({ wdth: 80 })).toBe(variable.at({ wdth: 80, wght: 640 }))
    expect(variable.at({ XXXX: 3 })).toBe(variable)
    expect(assets.fonts.get('semibold')!.at({ wght: 900 })).toBe(assets.fonts.get('semibold'))
  })
})

describe('condense', () => {
  const condense = (to: number, room: number, runs: StyledRun[]) => set(runs, { room, fit: [{ step: 'condense', to }] })
  const words = 'Boats run until nine'
  // As a text of this size has it by itself: drawn for small sizes the font narrows by a tenth only.
  const large = variable.at({ opsz: 100 })
  const full = widthOf(words, large)

  test('goes by the width axis: the letters are drawn narrower, not scaled', () => {
    const block = condense(0.6, full * 0.8, [run(words, large)])
    expect(block.fit.overflow).toBe(0)
    expect(block.fit.width).toBeGreaterThan(full * 0.8 - 0.5)
    for (const glyph of block.glyphs) {
      expect(glyph.scaleX).toBe(glyph.scaleY)
      expect(glyph.font.standing.wdth).toBeLessThan(100)
      expect(glyph.font.standing.wdth).toBeGreaterThan(50)
    }
  })

  test('scales only where the axis ends', () => {
    // Narrow as it stands: the axis goes on to 25 of 30, and from there to half of that the letters are scaled.
    const narrow = large.at({ wdth: 30 })
    const block = condense(0.3, widthOf(words, narrow) * 0.5, [run(words, narrow)])
    expect(block.fit.overflow).toBe(0)
    for (const glyph of block.glyphs) {
      expect(glyph.font.standing.wdth).toBe(25)
      expect(glyph.scaleX / glyph.scaleY).toBeGreaterThan(0.4)
      expect(glyph.scaleX / glyph.scaleY).toBeLessThan(0.6)
    }
  })

  test('scales the runs of fonts without the axis beside those that have it', () => {
    const semibold = assets.fonts.get('semibold')!
    const runs = [run('Boats run ', large), run('until nine', semibold)]
    const block = condense(0.5, set(runs).fit.width * 0.8, runs)
    expect(block.fit.overflow).toBe(0)
    const [first, last] = [block.glyphs[0]!, block.glyphs.at(-1)!]
    expect(first.scaleX).toBe(first.scaleY)
    expect(last.font).toBe(semibold)
    expect(last.scaleX / last.scaleY).toBeCloseTo(block.condense, 9)
  })

  test('takes no more than is needed, at any room, weight and alphabet', () => {
    const text = fc.constantFrom(words, 'AVATAR', 'ليلى Nine', 'i')
    fc.assert(
      fc.property(text, fc.double({ min: 0.35, max: 1.1, noNaN: true }), places, (said, share, at) => {
        const runs = [run(said, variable.at({ ...at, wdth: 100 }))]
        const natural = set(runs).fit.width
        const block = condense(0.3, natural * share, runs)
        expect(block.fit.natural).toBeCloseTo(natural, 6)
        if (block.fit.overflow === 0) {
          expect(block.fit.width).toBeLessThanOrEqual(natural * share + 1e-6)
          // Half a pixel, and what one step of the axis is worth (a 64th of a per cent).
          if (share < 1) expect(block.fit.width).toBeGreaterThan(natural * share - 0.5 - natural / 6400)
        }
        expect(set(runs, { room: natural * share, fit: [{ step: 'condense', to: 0.3 }] }).glyphs).toEqual(block.glyphs)
      }),
      { numRuns: 60 },
    )
  })
})

test('a text whose fonts stand further on their axes keeps its lines and comes back the same', () => {
  const long = 'Boats run until nine and the ferry waits'
  const block = set([run(long)], { room: 500, fit: [{ step: 'wrap', to: 3 }] })
  const heavy = block.shifted({ wght: 400 })
  expect(heavy.lines.map(({ start, end }) => [start, end])).toEqual(block.lines.map(({ start, end }) => [start, end]))
  expect(heavy.fit.width).toBeGreaterThan(block.fit.width)
  expect(heavy.shifted({ wght: -400 }).glyphs.map(({ x, y }) => [x, y])).toEqual(block.glyphs.map(({ x, y }) => [x, y]))
})
