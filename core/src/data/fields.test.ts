import fc from 'fast-check'
import { type Field, type FieldType, type FieldValue, languages, writeMoment, writeNumber } from '../template/index.ts'
import { field } from '../testing/parts.ts'
import { speaker } from '../testing/speaker.ts'
import { localMoment } from './about.ts'
import { allows, fieldLine, readCell, refuseFieldValue, valuesOf, writeCell } from './index.ts'

const { fonts } = speaker

/** Any value of a field that may stand in it. */
const fitting: Record<FieldType, [Field, fc.Arbitrary<FieldValue>]> = {
  text: [field({ type: 'text' }), fc.string()],
  language: [field({ type: 'language' }), fc.constantFrom('en', 'pt-BR', 'ar-u-nu-latn')],
  number: [field({ type: 'number' }), fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((n) => n + 0)],
  moment: [
    field({ type: 'moment' }),
    fc
      .date({ min: new Date('2000-01-01T12:00Z'), max: new Date('2090-01-01T12:00Z'), noInvalidDate: true })
      .map((d) => d.toISOString().slice(0, 16)),
  ],
  texts: [
    field({ type: 'texts' }),
    fc.array(fc.stringMatching(/^[A-Za-z][A-Za-z ]*[A-Za-z]$/), { minLength: 2, maxLength: 6 }),
  ],
  numbers: [
    field({ type: 'numbers' }),
    fc.array(
      fc.double({ min: -999, max: 999, noNaN: true }).map((n) => n + 0),
      { minLength: 2, maxLength: 30 },
    ),
  ],
  switch: [field({ type: 'switch' }), fc.boolean()],
  colour: [field({ type: 'colour', free: true }), fc.constantFrom('#123456', '#abcdef80', 'palette:night')],
  picture: [
    field({ type: 'picture', picture: { focus: true, zoom: [0.5, 3], scaling: true } }),
    fc.oneof(
      fc.constantFrom('eel.png', 'mill 2.jpg'),
      fc.record({ picture: fc.constant('eel.png'), zoom: fc.constantFrom(1, 2.5), focusX: fc.constantFrom(0, 0.25) }),
    ),
  ],
  choice: [
    field({ type: 'choice', options: ['left', 'right'].map((value) => ({ value, name: value, sets: [] })) }),
    fc.constantFrom('left', 'right'),
  ],
  style: [
    field({ type: 'style', fonts: fonts.map((f) => f.id), sizes: [10, 90] }),
    fc.record(
      { font: fc.constantFrom(...fonts.map((f) => f.id)), size: fc.integer({ min: 10, max: 90 }) },
      { requiredKeys: ['size'] },
    ),
  ],
  shift: [
    field({ type: 'shift', reach: { x: [-9, 9], y: [-9, 9] } }),
    fc.record({ x: fc.integer({ min: -9, max: 9 }), y: fc.integer({ min: -9, max: 9 }) }),
  ],
}

test.each(Object.keys(fitting) as FieldType[])(
  'a %s is written into a cell and read back as it was, and may stand',
  (type) => {
    const [one, value] = fitting[type]
    fc.assert(
      fc.property(value, (v) => {
        expect(readCell(speaker, one, writeCell(speaker, one, v))).toEqual(v)
        expect(refuseFieldValue(speaker, one, v)).toBeUndefined()
      }),
    )
  },
)

test.each([
  ['text', { limit: 3 }, 'ABCD', 'has 4 characters, 1 more than the 3 allowed'],
  ['text', { lines: 1 }, 'a\nb', 'has 2 lines, 1 allowed'],
  ['text', { allowed: 'A-Z ' }, 'Ab1', 'holds "b", "1"; allowed are A-Z '],
  ['number', { min: 0 }, -1, 'is -1, outside 0 to ∞'],
  ['number', {}, 'many', 'is not a number'],
  ['moment', {}, '26/11/2026', 'is no date'],
  ['moment', {}, '2026-02-30', 'is no date'],
  ['texts', { count: 1 }, ['a', 'b'], 'has 2 entries, 1 allowed'],
  ['texts', { limit: 2 }, ['ab', 'abc'], 'has 3 characters'],
  ['numbers', { max: 5 }, [1, 9], 'is 9, outside −∞ to 5'],
  ['numbers', {}, 'x', 'is not a list of numbers'],
  ['switch', {}, 'maybe', 'is neither yes nor no'],
  ['colour', {}, '#ffffff', 'is not a colour of the palette'],
  ['colour', { free: true }, 'palette:none', 'is not in the palette'],
  ['picture', { picture: {} }, { picture: 'a.png', zoom: 2 }, 'sets zoom, which is locked'],
  ['picture', { picture: { zoom: [1, 2] } }, { picture: 'a.png', zoom: 3 }, 'is zoomed to 3, outside 1 to 2'],
  ['picture', { picture: { focus: true } }, { picture: 'a.png', focusX: 2 }, 'has a focus outside the picture'],
  ['choice', { options: [] }, 'left', '"left" is none of'],
  ['style', { sizes: [10, 20] }, { size: 30 }, 'is 30 px, outside 10 to 20'],
  ['style', {}, { font: 'other' }, 'may not be set in that font; it is locked'],
  ['shift', { reach: { x: [0, 1], y: [0, 1] } }, { x: 5, y: 0 }, 'is shifted by 5, 0'],
  ['shift', {}, {}, 'is not a shift'],
] as [FieldType, Partial<Field>, FieldValue, string][])('a %s with %j refuses %j', (type, more, value, sentence) => {
  expect(refuseFieldValue(speaker, field({ type, ...more }), value)?.message).toContain(sentence)
})

test('a list in a cell is parted by line ends, semicolons, bars or what is left, or it is JSON', () => {
  const numbers = field({ type: 'numbers' })
  for (const cell of ['1,5; 2; −3', '1.5 2 -3', '1.5|2|-3', '1,5\n2\n-3', '[1.5, 2, -3]'])
    expect(readCell(speaker, numbers, cell)).toEqual([1.5, 2, -3])
  expect(readCell(speaker, numbers, '1.5,2,-3')).toEqual([1.5, 2, -3])
  expect(readCell(speaker, field({ type: 'texts' }), 'Tide 3,4 m; Boats run')).toEqual(['Tide 3,4 m', 'Boats run'])
})

test('colours and options may be given by the name people read', () => {
  const night = speaker.palette[0]!
  expect(readCell(speaker, field({ type: 'colour' }), night.name.toUpperCase())).toBe(`palette:${night.id}`)
  const side = field({ type: 'choice', options: [{ value: 'r', name: 'Right side', sets: [] }] })
  expect(readCell(speaker, side, 'right side')).toBe('r')
})

test('what the hand-off does not allow does not come through the sheet (invariant 4)', () => {
  const template = {
    ...speaker,
    fields: [
      field({ type: 'number', key: 'n', name: 'N', min: 0, max: 5, default: 1 }),
      field({ type: 'colour', id: 'g', key: 'c', name: 'C', default: 'palette:night' }),
    ],
  }
  const { values, problems } = valuesOf(template, { n: 'n', c: 'c' }, { cells: { n: '9', c: '#ff0000' } })
  expect(values).toEqual({})
  expect(problems.map((p) => [p.level, p.code])).toEqual([
    ['stop', 'limit'],
    ['stop', 'limit'],
  ])
})

test('characters that are allowed: ranges, and a hyphen at an end', () => {
  const all = (allowed: string) => [...'aZ5-é 👍🏽'].filter((c) => allows(allowed, c)).join('')
  expect(all('a-z')).toBe('a')
  expect(all('A-Z0-9-')).toBe('Z5-')
  expect(all('é ')).toBe('é ')
  expect(allows('a-z', 'é')).toBe(false)
})

test('numbers are written with their unit, sign, mark and groups', () => {
  const base = { decimals: 1, mark: ',' as const, group: ' ' as const, before: '', after: ' m', plus: true }
  expect(writeNumber(1234567.05, base)).toBe('+1 234 567,1 m')
  expect(writeNumber(-0.04, base)).toBe('0,0 m')
  expect(writeNumber(-3.25, { ...base, decimals: 0 })).toBe('−3 m')
  fc.assert(
    fc.property(fc.integer({ min: -1e9, max: 1e9 }), (n) => {
      expect(
        Number(
          writeNumber(n, { ...base, decimals: 0, after: '', group: ',' })
            .replaceAll(',', '')
            .replace('−', '-'),
        ),
      ).toBe(n)
    }),
  )
})

// Unicode LDML (UTS #35), part 4, date field symbols: EEEE the day of the week, d the day, MMMM the month, HH 00 to 23, mm.
test('moments are written by patterns of UTS #35 in many languages', () => {
  const moment = '2026-11-26T18:05'
  expect(writeMoment(moment, 'EEEE d MMMM, HH:mm', 'en')).toBe('Thursday 26 November, 18:05')
  expect(writeMoment(moment, 'EEEE d MMMM', 'es')).toBe('jueves 26 noviembre')
  expect(writeMoment(moment, "d. MMM yy 'um' H", 'de')).toMatch(/^26\. Nov\.? 26 um 18$/)
  for (const language of Object.keys(languages)) expect(writeMoment(moment, 'MMMM', language)).toMatch(/\p{L}{3}/u)
  expect(writeMoment('soon', 'd MMM', 'en')).toBe('soon')
})

// Unicode CLDR, by way of ECMA-402 as Node has it: names of months and of days of the week within a date.
test('months and days are called as CLDR calls them', () => {
  const off: string[] = []
  for (const tag of Object.keys(languages))
    for (let n = 0; n < 12; n++) {
      const date = new Date(2026, n, 1 + ((n * 3) % 28), 12)
      const written = writeMoment(localMoment(date), 'EEEE d MMMM', tag)
      const parts = new Intl.DateTimeFormat(tag, { weekday: 'long', day: 'numeric', month: 'long' }).formatToParts(date)
      const told = (type: string) => parts.find((one) => one.type === type)!.value
      // Catalan has its preposition in the month's name, which a pattern writes itself.
      const [day, month] = [told('weekday'), told('month').replace(/^(de |d’)/, '')]
      if (!written.startsWith(day) || !written.endsWith(month)) off.push(`${tag} ${written}`)
    }
  // The package writes Vietnamese months with two digits, CLDR with as many as they have.
  expect(off.filter((one) => !/^vi .* tháng 0\d$/.test(one))).toEqual([])
  expect(off.length).toBe(9)
})

test('a field says in one line what it takes', () => {
  expect(fieldLine(speaker, field({ type: 'text', required: true, limit: 40, lines: 2 }))).toBe(
    'text, required, at most 40 characters, at most 2 lines',
  )
  expect(fieldLine(speaker, field({ type: 'number', min: 0, max: 9.5 }))).toBe('number, from 0 to 9.5')
})
