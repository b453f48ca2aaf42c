import fc from 'fast-check'
import { speaker } from '../testing/speaker.ts'
import {
  allUnits,
  type Conversion,
  conversionKinds,
  converted,
  fromSource,
  givenText,
  kindredUnits,
  refuseConversion,
  refuseMatch,
  sourceWords,
  valuesOf,
  withoutOwn,
  withText,
} from './index.ts'

const through = (text: string, ...conversions: Conversion[]) => converted(text, conversions).text

test('every conversion does what its example says', () => {
  const shown = Object.fromEntries(
    Object.entries(conversionKinds).map(([kind, { first, example }]) => [kind, through(example, first)]),
  )
  expect(shown).toEqual({
    trim: 'Io Marrec',
    case: 'Jean-Baptiste de la Ría',
    number: '1204.5',
    piece: 'Io Marrec',
    date: '2026-11-26',
    words: 'yes',
    unit: '3.7',
    replace: 'Line 3 – night',
  })
  for (const { first } of Object.values(conversionKinds)) expect(refuseConversion(first)).toBeUndefined()
})

test('capitals: words, particles, apostrophes, sentences; scripts without a case stay', () => {
  const to = (as: 'words' | 'sentence' | 'upper') => (text: string) => through(text, { kind: 'case', to: as })
  expect(to('words')('VON DER HEIDE, MAREN')).toBe('Von der Heide, Maren')
  expect(to('words')("aoife o'brien-ní loingsigh")).toBe("Aoife O'Brien-Ní Loingsigh")
  expect(to('words')("rosa l'àvia")).toBe("Rosa L'Àvia")
  expect(to('sentence')('«WHAT THE MARSH REMEMBERS»')).toBe('«What the marsh remembers»')
  expect(to('words')('海野 さくら ليلى')).toBe('海野 さくら ليلى')
})

test('numbers by their decimal mark, whatever stands between thousands, with any unit behind', () => {
  const number = (mark: '.' | ',') => (text: string) => through(text, { kind: 'number', mark })
  expect(['1.204,5', '1 204,5 m', '1’204,5', '+1.204,50'].map(number(','))).toEqual(Array(4).fill('1204.5'))
  expect(['1,204.5', '1\u202f204.5'].map(number('.'))).toEqual(['1204.5', '1204.5'])
  expect(number(',')('−3,4 °C')).toBe('-3.4')
  expect(converted('high', [{ kind: 'number', mark: ',' }])).toEqual({
    text: 'high',
    problem: '"high" is not a number, so it stays as it is',
  })
})

test('dates by a pattern of UTS #35, in a language, to ISO 8601 or to another pattern; a day that never was is none', () => {
  const date = (as: string, language = 'en', to = ''): Conversion => ({ kind: 'date', as, language, to })
  expect(through('26/11/2026', date('d/M/yyyy'))).toBe('2026-11-26')
  expect(through('11/26/2026', date('M/d/yyyy'))).toBe('2026-11-26')
  expect(through('26. November 2026', date('d. MMMM yyyy', 'de'))).toBe('2026-11-26')
  expect(through('26 de noviembre de 2026', date("d 'de' MMMM 'de' yyyy", 'es'))).toBe('2026-11-26')
  expect(through('26.11.26 18:30', date('d.M.yy HH:mm'))).toBe('2026-11-26T18:30')
  expect(through('26/11/2026', date('d/M/yyyy', 'fr', 'EEEE d MMMM'))).toBe('jeudi 26 novembre')
  expect(converted('30/02/2026', [date('d/M/yyyy')]).problem).toContain('not a date written as d/M/yyyy')
})

// Exact by definition: foot and pound by the international yard and pound agreement (1959), mile 1609.344 m, nautical mile
// 1852 m (1929); degrees by the SI Brochure (9th edition), 2.3.1.
test('units are what their definitions say, and come back as they were', () => {
  const unit = (from: string, to: string, decimals = 4): Conversion => ({ kind: 'unit', from, to, decimals })
  expect(through('1 ft', unit('ft', 'm'))).toBe('0.3048')
  expect(through('1', unit('nmi', 'km'))).toBe('1.8520')
  expect(through('10 kn', unit('kn', 'km/h', 2))).toBe('18.52')
  expect(through('212', unit('°F', '°C', 1))).toBe('100.0')
  expect(through('-40', unit('°C', '°F', 1))).toBe('-40.0')
  expect(through('0', unit('°C', 'K', 2))).toBe('273.15')
  expect(through('1', unit('lb', 'kg', 6))).toBe('0.453592')
  fc.assert(
    fc.property(fc.constantFrom(...allUnits), fc.nat(), fc.integer({ min: -10_000, max: 10_000 }), (from, pick, n) => {
      const kin = kindredUnits(from)
      const to = kin[pick % kin.length]!
      const there = through(String(n), unit(from, to, 6))
      // Six decimals of a tonne are a gram: the coarsest that any of these can be.
      expect(Math.abs(Number(through(there, unit(to, from, 3))) - n)).toBeLessThan(0.6)
    }),
  )
  expect(refuseConversion({ kind: 'unit', from: 'ft', to: 'kg', decimals: 1 })).toContain('can\'t be told in "kg"')
})

test('trimming twice trims once; what is empty stays empty through every conversion', () => {
  fc.assert(
    fc.property(fc.string(), (text) => {
      const once = through(text, { kind: 'trim' })
      expect(through(once, { kind: 'trim' })).toBe(once)
    }),
  )
  for (const { first } of Object.values(conversionKinds)) expect(converted('', [first])).toEqual({ text: '' })
})

test('words and patterns are replaced; plain words are no pattern', () => {
  const replace = (find: string, put: string, pattern = false): Conversion => ({ kind: 'replace', find, put, pattern })
  expect(through('a.b$&', replace('.', '$&'))).toBe('a$&b$&')
  expect(through('Marrec, Io', replace('^(.+), (.+)$', '$2 $1', true))).toBe('Io Marrec')
  expect(through('  IN service', { kind: 'words', pairs: [['in service', 'yes']] })).toBe('yes')
  expect(refuseConversion({ kind: 'replace', find: '(', put: '', pattern: true })).toBe(
    '"(" is no pattern; look at its brackets',
  )
  for (const wrong of [{ kind: 'spell' }, null, { kind: 'case', to: 'wild' }, { kind: 'words', pairs: ['a'] }])
    expect(refuseConversion(wrong)).toBeDefined()
})

test('a field is filled by a column, columns joined, or one text for all; what is set by hand comes first', () => {
  const cells = { First: 'Io', Middle: ' ', Last: 'Marrec' }
  expect(fromSource({ columns: ['First', 'Middle', 'Last'] }, cells).text).toBe('Io Marrec')
  expect(fromSource({ columns: ['Last', 'First'], between: ', ' }, cells).text).toBe('Marrec, Io')
  expect(fromSource({ columns: [], constant: 'Orilla' }, cells).text).toBe('Orilla')
  expect(fromSource('gone', cells).text).toBeUndefined()
  const match = { name: { columns: ['First', 'Last'] }, role: 'Role' }
  const row = withText(match, 'name', { cells }, 'Io M.')
  expect(row).toEqual({ cells, own: { name: 'Io M.' } })
  expect(givenText(match, 'name', row).text).toBe('Io M.')
  expect(withoutOwn('name', row)).toEqual({ cells })
  // One column as it stands takes the text itself, unless it is followed.
  expect(withText(match, 'role', { cells: {} }, 'Pilot')).toEqual({ cells: { Role: 'Pilot' } })
  expect(withText(match, 'role', { cells: {} }, 'Pilot', true)).toEqual({ cells: {}, own: { role: 'Pilot' } })
  expect([match.name, match.role, { columns: [], constant: 'x' }].map(sourceWords)).toEqual([
    'First + Last',
    'Role',
    '“x” in every row',
  ])
})

test('what could not be converted is told, and the text stays', () => {
  const match = { name: { columns: ['n'], conversions: [conversionKinds.date.first] } }
  const { values, problems } = valuesOf({ ...speaker, fields: speaker.fields.slice(0, 1) }, match, {
    cells: { n: 'soon' },
  })
  expect(values).toEqual({ name: 'soon' })
  expect(problems.map(({ code, message }) => [code, message])).toEqual([
    ['conversion', 'Name: "soon" is not a date written as d/M/yyyy, so it stays as it is.'],
  ])
})

test('a match fills fields only, and is what it seems', () => {
  expect(refuseMatch(speaker, { name: 'Name', role: { columns: ['a', 'b'], between: ' ' } })).toBeUndefined()
  expect(refuseMatch(speaker, { plate: 'Name' })).toContain('"plate" is not a field')
  for (const wrong of [
    null,
    { name: 3 },
    { name: {} },
    { name: { columns: [1] } },
    { name: { columns: [], constant: 2 } },
  ])
    expect(refuseMatch(speaker, wrong)).toBeDefined()
  expect(refuseMatch(speaker, { name: { columns: [], conversions: [{ kind: 'spell' }] } })).toContain(
    "can't be converted",
  )
})

test.each(['constructor', 'toString', '__proto__', 'hasOwnProperty'])(
  'what every object has, as %s, is no kind of anything',
  (name) => {
    expect(refuseConversion({ kind: name })).toContain('a conversion is one of')
    expect(refuseConversion({ kind: 'case', to: name })).toContain('capitals are')
    expect(refuseConversion({ kind: 'date', as: 'd', to: '', language: name })).toContain(
      'needs its pattern and a language',
    )
    expect(refuseConversion({ kind: 'unit', from: name, to: 'name', decimals: 1 })).toContain("can't be told")
  },
)
