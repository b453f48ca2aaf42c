import fc from 'fast-check'
import { bytesOf, contrastRatio, darker, lighter, readColour } from '../colour/index.ts'
import { differenceOf } from '../handoff/index.ts'
import { Scene } from '../scene/index.ts'
import { axis, field, fixed, part, text } from '../testing/parts.ts'
import { assets, templateOf } from '../testing/speaker.ts'
import {
  addPalette,
  clip,
  colouredBy,
  edit,
  type Field,
  type PaletteColour,
  paintedIn,
  paletteWith,
  paste,
  readTemplate,
  type Template,
} from './index.ts'

const hex = fc
  .tuple(fc.nat(255), fc.nat(255), fc.nat(255))
  .map((bytes) => `#${bytes.map((byte) => byte.toString(16).padStart(2, '0')).join('')}`)
const given = (colours: Record<string, string>) => new Map(Object.entries(colours))
const palette: PaletteColour[] = [
  { id: 'main', name: 'Main', colour: '#12343b' },
  { id: 'shell', name: 'Shell', colour: '#f4ead5' },
  { id: 'ink', name: 'Ink', colour: '#20261f' },
  { id: 'deep', name: 'Deep', colour: '#000000', from: { as: 'darker', of: 'palette:main', by: 0.4 } },
  { id: 'pale', name: 'Pale', colour: '#000000', from: { as: 'lighter', of: 'palette:deep', by: 0.5 } },
  {
    id: 'words',
    name: 'Words',
    colour: '#000000',
    from: { as: 'readable', on: 'palette:main', one: 'palette:shell', other: 'palette:ink' },
  },
]
const sponsor = field({
  id: 's',
  key: 'sponsor',
  name: 'Sponsor',
  type: 'colour',
  default: 'palette:main',
  free: true,
  paints: ['palette:main'],
})
const evening: Field = field({
  id: 'p',
  key: 'palette',
  name: 'Palette',
  type: 'choice',
  default: 'day',
  options: [
    { value: 'day', name: 'Day', sets: [] },
    {
      value: 'evening',
      name: 'Evening',
      sets: [],
      colours: [
        { of: 'palette:main', to: '#3b1235' },
        { of: 'palette:shell', to: 'palette:ink' },
      ],
    },
  ],
})

/** A drawing in which the palette is used in every way there is. */
function drawing(fields: Field[] = []): Template {
  const stops = [
    { at: 0, colour: 'palette:main' },
    { at: 1, colour: 'palette:pale' },
  ]
  const keys = [
    { span: 'in', at: 0, value: 1, ease: 'linear' },
    { span: 'in', at: 10, value: 0, ease: 'linear' },
  ]
  const tint = { anchor: { x: 0.5, y: 0.5 }, tracks: { colour: { to: 'palette:main', keys } }, out: 'mirror' }
  const parts = [
    part('box', 'flat', axis([], fixed(200)), axis([], fixed(80)), {
      fill: 'palette:main',
      stroke: 'palette:deep',
      strokeWidth: 4,
    }),
    part('box', 'graded', axis([], fixed(200)), axis([], fixed(80)), {
      fill: { kind: 'linear', angle: 90, stops },
      shadows: [{ x: 0, y: 4, blur: 8, colour: 'palette:main' }],
    }),
    part('ellipse', 'moving', axis([], fixed(90)), axis([], fixed(90)), { fill: 'palette:shell' }, { motion: tint }),
    text('said', 'Tide', axis([]), {
      colour: 'palette:words',
      content: [{ text: 'Ti', colour: 'palette:main' }, { text: 'de' }],
    }),
  ]
  return edit(templateOf(parts, { fields }), { kind: 'palette', palette })
}
const frames = [0, 4, 20]
const drawn = (template: Template, values: Record<string, string>) => {
  const scene = new Scene(template, assets)
  const layout = scene.layout(values)
  return frames.map((frame) => scene.frame(layout, scene.timing(scene.layout({})), frame))
}

test('a colour that a row gives reaches everything that uses it, as if the palette had been drawn with it', () => {
  fc.assert(
    fc.property(hex, (colour) => {
      const recoloured = palette.map((entry) => (entry.id === 'main' ? { ...entry, colour } : entry))
      const by = drawn(drawing([sponsor]), { sponsor: colour })
      expect(by).toEqual(drawn(edit(drawing(), { kind: 'palette', palette: recoloured }), {}))
      expect(drawn(drawing([sponsor]), {})).toEqual(drawn(drawing(), {}))
    }),
    { numRuns: 30 },
  )
})

test('what is no colour paints nothing', () => {
  for (const value of ['tealish', '', 'palette:nowhere', '#12'])
    expect(drawn(drawing([sponsor]), { sponsor: value })).toEqual(drawn(drawing(), {}))
  // Nor does what a field of another kind says.
  const name = { ...sponsor, type: 'text', default: 'Maren' } as Field
  expect(drawn(drawing([name]), {})).toEqual(drawn(drawing(), {}))
})

test('a palette of a name is an option of a choice; a colour that a row gives comes over it', () => {
  const template = drawing([evening, sponsor])
  const asEvening = palette.map((entry) =>
    entry.id === 'main'
      ? { ...entry, colour: '#3b1235' }
      : entry.id === 'shell'
        ? { ...entry, colour: '#20261f' }
        : entry,
  )
  expect(drawn(template, { palette: 'evening' })).toEqual(
    drawn(edit(drawing(), { kind: 'palette', palette: asEvening }), {}),
  )
  expect(paintedIn(template, { palette: 'evening', sponsor: '#ffffff' }).get('main')).toBe('#ffffff')
  // Its own name is what the palette has, an evening's colour too.
  expect(paintedIn(template, { palette: 'evening', sponsor: 'palette:main' }).get('main')).toBe('#3b1235')
  const reached = colouredBy(template, sponsor)
  expect(reached).toEqual(
    expect.arrayContaining([
      { part: 'flat', property: 'fill' },
      { part: 'flat', property: 'stroke' },
      { part: 'graded', property: 'fill' },
      { part: 'graded', property: 'shadows' },
      { part: 'moving', property: 'motion' },
      { part: 'said', property: 'content' },
      // Worked out from it.
      { part: 'said', property: 'colour' },
    ]),
  )
  expect(reached).not.toContainEqual({ part: 'moving', property: 'fill' })
})

test('colours are worked out from others, in whatever order they stand', () => {
  fc.assert(
    fc.property(hex, fc.shuffledSubarray(palette, { minLength: palette.length }), (colour, shuffled) => {
      const now = new Map(paletteWith(shuffled, given({ main: colour })).map((entry) => [entry.id, entry.colour]))
      expect(now.get('deep')).toBe(darker(colour, 0.4))
      expect(now.get('pale')).toBe(lighter(darker(colour, 0.4), 0.5))
      // WCAG 2.2: never the one of lower contrast.
      const contrast = (id: string) => contrastRatio(now.get(id)!, colour)
      expect(contrast('words')).toBe(Math.max(contrast('shell'), contrast('ink')))
      expect(now.get('shell')).toBe('#f4ead5')
    }),
  )
})

test('lighter and darker: nothing by 0, white and black by 1, luminance in order between (WCAG 2.2); opacity stays', () => {
  const luminance = (colour: string) => contrastRatio(colour, '#000000')
  const moved = (colour: string, by: number) =>
    `#${bytesOf(colour)
      .slice(0, 3)
      .map((byte) =>
        Math.max(0, Math.min(255, byte + by))
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')}`
  fc.assert(
    fc.property(
      hex,
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (colour, a, b) => {
        const near = (one: string, other: string) =>
          bytesOf(one).every((byte, i) => Math.abs(byte - bytesOf(other)[i]!) <= 1)
        expect(near(lighter(colour, 0), colour)).toBe(true)
        expect(near(darker(colour, 0), colour)).toBe(true)
        expect([lighter(colour, 1), darker(colour, 1)]).toEqual(['#ffffff', '#000000'])
        const [less, more] = a < b ? [a, b] : [b, a]
        // Each channel is rounded to a byte by itself, up in the one and down in the other.
        expect(luminance(moved(lighter(colour, more), 2))).toBeGreaterThanOrEqual(luminance(lighter(colour, less)))
        expect(luminance(moved(darker(colour, more), -2))).toBeLessThanOrEqual(luminance(darker(colour, less)))
      },
    ),
  )
  expect(lighter('#12343b80', 0.3).slice(7)).toBe('80')
  // The worked values of WCAG 2.2's own definition: black on white 21, red on white 4.00 (0.2126 relative luminance).
  expect(contrastRatio('#000000', '#ffffff')).toBe(21)
  expect(contrastRatio('#ff0000', '#ffffff')).toBeCloseTo(1.05 / (0.2126 + 0.05), 2)
})

test('data says colours in hex or by the names of CSS Color 4; anything else is none', () => {
  expect(['#0A8', '0a8f', '#12343b', '12343B80', 'RebeccaPurple', 'teal', 'transparent'].map(readColour)).toEqual([
    '#00aa88',
    '#00aa88',
    '#12343b',
    '#12343b80',
    '#663399',
    '#008080',
    '#00000000',
  ])
  expect(['tide', '#12', '12345', ''].map(readColour)).toEqual([undefined, undefined, undefined, undefined])
})

test('a colour worked out from itself, or from what is not there, is refused in a sentence', () => {
  const ring = palette.map((entry) =>
    entry.id === 'deep' ? { ...entry, from: { as: 'darker' as const, of: 'palette:pale', by: 0.1 } } : entry,
  )
  expect(() => edit(drawing(), { kind: 'palette', palette: ring })).toThrow('is worked out from itself')
  const missing = palette.filter(({ id }) => id !== 'ink')
  expect(() => edit(drawing(), { kind: 'palette', palette: missing })).toThrow(
    'The palette\'s "Words" is worked out from "ink", which is not there; choose another.',
  )
  const lost = { ...sponsor, paints: ['palette:nowhere'] }
  expect(() => edit(drawing(), { kind: 'field', field: lost })).toThrow('palette:nowhere, which is not in the palette')
  expect(readTemplate(JSON.parse(JSON.stringify(drawing([evening, sponsor]))))).toEqual(drawing([evening, sponsor]))
})

test('parts are copied into another template with colours as they are, whatever those were worked out from', () => {
  const template = drawing()
  const clipping = clip(template, ['said'])
  const empty = templateOf([], { fields: [], palette: [] })
  const made = edit(empty, paste(empty, clipping).change)
  const words = template.palette.find(({ id }) => id === 'words')!
  expect(made.palette).toContainEqual({ id: 'words', name: 'Words', colour: words.colour })
})

test('what is new between versions says that a colour follows another, and that a palette has other colours', () => {
  const before = drawing([evening])
  const loose = before.palette.map(({ from: _, ...entry }) => entry)
  const options = evening.options!.map((option) => ({ ...option, ...(option.colours ? { colours: [] } : {}) }))
  const after = edit(edit(before, { kind: 'palette', palette: loose }), {
    kind: 'field',
    field: { ...evening, options },
  })
  const said = differenceOf(before, after).map(({ sentence }) => sentence)
  expect(said).toContain('The colour Deep follows no other any more')
  expect(said).toContain('Palette: its options set other values')
})

test('a palette is called in data what it is called, with a number where that is taken', () => {
  const first = addPalette(drawing(), 'Evening')
  expect(first.value).toBe('evening')
  expect(addPalette(edit(drawing(), first.change), 'Evening').value).toBe('evening-1')
})
