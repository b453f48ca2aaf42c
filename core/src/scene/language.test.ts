import { valuesOf } from '../data/index.ts'
import { type Field, languageOf, newLanguage, type Template, withDigits } from '../template/index.ts'
import { axis, field, text } from '../testing/parts.ts'
import { assets, sceneOf, speaker, templateOf } from '../testing/speaker.ts'
import { type Hyphenate, hyphenatedLanguages, loadHyphens } from '../text/index.ts'
import { Scene } from './index.ts'

const words = (scene: Scene, values = {}) => scene.layout(values).blocks[0]!.text
const glyphs = (scene: Scene, values = {}) => scene.layout(values).blocks[0]!.glyphs.map(({ id }) => id)
const one = (said: string, style: object = {}, more: Partial<Template> = {}) =>
  sceneOf([text('t', said, axis([]), style)], more)

test('capitals go by the language of the title, of the text, of the field, of the row: the nearest holds', () => {
  const upper = { case: 'upper' }
  expect(words(one('iğne', upper, { language: 'en' }))).toBe('IĞNE')
  expect(words(one('iğne', upper, { language: 'tr' }))).toBe('İĞNE')
  expect(words(one('iğne', { ...upper, language: 'en' }, { language: 'tr' }))).toBe('IĞNE')
  const name = (more: Partial<Field> = {}) => field({ id: 'n', key: 'n', default: 'iğne', ...more })
  const shown = { ...upper, content: [{ field: 'n' }] }
  expect(words(one('', shown, { fields: [name({ language: 'tr' })], language: 'en' }))).toBe('İĞNE')
  // Rows differ: a field of the title's language, filled by a column.
  const template = { ...templateOf([text('t', '', axis([]), shown)]), fields: [name()], language: 'en' }
  const spoken = { ...template, fields: [name(), newLanguage(template)] }
  const scene = new Scene(spoken, assets)
  const row = (language: string) => valuesOf(spoken, { n: 'N', language: 'L' }, { cells: { N: 'iğne', L: language } })
  expect(['tr', 'en', ''].map((tag) => words(scene, row(tag).values))).toEqual(['İĞNE', 'IĞNE', 'IĞNE'])
  expect(row('tr_TR').values.language).toBe('tr-TR')
  expect(row('klingonish!').problems).toMatchObject([{ level: 'stop', code: 'value' }])
  expect(languageOf(speaker)).toBe('en')
})

test('a German ß is the capital that the text’s own font has', () => {
  expect(words(one('Straße', { case: 'upper', language: 'de', font: 'semibold' }))).toMatch(/^STRA(ẞ|SS)E$/)
  const has = assets.fonts.get('semibold')!.covers(0x1e9e)
  expect(words(one('Straße', { case: 'upper', language: 'de' }))).toBe(has ? 'STRAẞE' : 'STRASSE')
  expect(words(one('Straße', { case: 'upper', language: 'en' }))).toBe('STRASSE')
})

// OpenType language systems of the shipped fonts: Turkish has no fi ligature, Catalan sets l·l as one.
test('letters are shaped by the OpenType language system', () => {
  expect(glyphs(one('fikir', { language: 'tr' }))).not.toEqual(glyphs(one('fikir', { language: 'en' })))
  expect(glyphs(one('fikir', { language: 'tr' }))).toHaveLength(5)
  expect(glyphs(one('col·lecció', { language: 'ca' }))).not.toEqual(glyphs(one('col·lecció', { language: 'es' })))
  expect(glyphs(one('fikir', { language: '' }, { language: 'en' }))).toEqual(glyphs(one('fikir', { language: 'de' })))
})

test('digits are those of the language, or those that its tag asks for (BCP 47, -u-nu-)', () => {
  expect(withDigits('18:30', 'ar')).toBe('١٨:٣٠')
  expect(['fa', 'mr', 'en', 'ar-MA', 'ar-u-nu-latn', 'en-u-nu-deva'].map((tag) => withDigits('27', tag))).toEqual([
    '۲۷',
    '२७',
    '27',
    '27',
    '27',
    '२७',
  ])
  const height = field({
    id: 'h',
    key: 'h',
    type: 'number',
    default: 2.4,
    format: { decimals: 1, mark: ',', group: '', before: '', after: ' م', plus: false },
  })
  const scene = one('', { content: [{ field: 'h' }] }, { fields: [height], language: 'ar' })
  expect(words(scene)).toBe('٢,٤ م')
  const day = field({ id: 'd', key: 'd', type: 'moment', default: '2026-11-26', pattern: 'd MMMM' })
  expect(words(one('', { content: [{ field: 'd' }] }, { fields: [day], language: 'de' }))).toBe('26 November')
  expect(words(one('', { content: [{ field: 'd' }] }, { fields: [day], language: 'es-MX' }))).toBe('26 noviembre')
})

const parted = async (said: string, language: string, room: number, style: object = {}) => {
  const hyphenate: Hyphenate = await loadHyphens(['en', 'de', 'es'])
  const part = {
    ...text('t', said, axis([]), { language, hyphenate: true, fit: [{ step: 'wrap', to: 9 }], ...style }),
    room: { kind: 'width', value: room },
  }
  const scene = new Scene(templateOf([part as never]), { ...assets, hyphenate })
  const block = scene.layout({}).blocks[0]!
  return { block, lines: block.lineCount, widest: block.fit.width }
}

// Worked examples of TeX's patterns (hyph-utf8), from memory: hy-phen-ation; Ge-zei-ten-kraft-werk.
test('words are parted by the rules of their language, with a hyphen that is counted and drawn', async () => {
  const hyphenate = await loadHyphens(['en', 'de'])
  expect(hyphenate('hyphenation', 'en').split('\u00ad')).toEqual(['hy', 'phen', 'ation'])
  expect(hyphenate('Gezeitenkraftwerk', 'de-AT').split('\u00ad')).toEqual(['Ge', 'zei', 'ten', 'kraft', 'werk'])
  // A language that was not read, or is not known, parts nothing; what somebody has parted is left as it is.
  expect(hyphenate('restoration', 'sv')).toBe('restoration')
  expect(hyphenate('resto\u00adration', 'en')).toBe('resto\u00adration')
  const { block, lines, widest } = await parted('Gezeitenkraftwerk', 'de', 260)
  expect(lines).toBeGreaterThan(1)
  expect(widest).toBeLessThanOrEqual(260)
  const font = assets.fonts.get('semibold')!
  const hyphen = block.glyphs.filter(({ id, line }, i, all) => all[i + 1]?.line !== line && line < lines - 1 && id > 0)
  expect(hyphen).toHaveLength(lines - 1)
  for (const glyph of hyphen) {
    expect(font.ink(glyph.id).width).toBeGreaterThan(0)
    expect(glyph.x + glyph.advance).toBeLessThanOrEqual(260 + 1e-6)
  }
  // In one line nothing shows of where it could be parted.
  const whole = await parted('Gezeitenkraftwerk', 'de', 5000)
  const plain = one('Gezeitenkraftwerk', { language: 'de' }).layout({}).blocks[0]!
  expect([whole.lines, whole.block.fit.width]).toEqual([1, expect.closeTo(plain.fit.width, 6)])
})

test('a soft hyphen that somebody typed parts a word with a hyphen too, and shows nowhere else', () => {
  const set = (room: number) =>
    sceneOf([
      {
        ...text('t', 'salt\u00admarsh', axis([]), { fit: [{ step: 'wrap', to: 3 }] }),
        room: { kind: 'width', value: room },
      } as never,
    ]).layout({}).blocks[0]!
  const [wide, narrow] = [set(900), set(140)]
  expect([wide.lineCount, narrow.lineCount]).toEqual([1, 2])
  const drawn = (block: typeof wide) => block.glyphs.filter(({ font, id }) => font.ink(id).width > 0).length
  expect([drawn(wide), drawn(narrow)]).toEqual([9, 10])
})

test('every language that can be read parts something', async () => {
  const long: Record<string, string> = { el: 'παλιρροιογράφος', ru: 'приливный', uk: 'припливний' }
  const hyphenate = await loadHyphens(hyphenatedLanguages)
  for (const tag of hyphenatedLanguages)
    expect([tag, hyphenate(long[tag] ?? 'internationalisation', tag).includes('\u00ad')]).toEqual([tag, true])
})
