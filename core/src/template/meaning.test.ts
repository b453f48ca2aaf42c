import { Refusal } from '../refusal/index.ts'
import { axis, box, field, fixed, part, tie, to } from '../testing/parts.ts'
import { speaker, templateOf } from '../testing/speaker.ts'
import { edit, type Keyframe, readTemplate, type Template } from './index.ts'

const plain = (template: Template) => JSON.parse(JSON.stringify(template))
/** What reading says of a document that was spoilt. */
function told(spoil: (document: Template) => void, from: Template = speaker): string {
  const document = plain(from)
  spoil(document)
  try {
    readTemplate(document)
    return 'taken'
  } catch (error) {
    return (error as Error).message
  }
}
const key = (span: Keyframe['span'], at: number, value = 0): Keyframe => ({ span, at, value, ease: 'linear' })
const keyed = (...keys: Keyframe[]): Template =>
  templateOf([
    {
      ...box('a', axis([], fixed(9))),
      motion: { anchor: { x: 0, y: 0 }, out: 'own', tracks: { fade: { keys } } },
    } as never,
  ])

test('a colour that is not in the palette is refused wherever it stands', () => {
  const one = (style: object) => templateOf([box('a', axis([], fixed(9)), undefined, style)])
  expect(told(() => {}, one({ fill: 'palette:none' }))).toMatch(
    /^Part "a" \(a\) has palette:none as its fill, which is not in the palette; use palette:.*, or null for no fill\.$/,
  )
  expect(told(() => {}, one({ shadows: [{ x: 0, y: 0, blur: 1, colour: 'palette:x' }] }))).toContain('palette:x')
  const stops = [
    { at: 0, colour: '#000000' },
    { at: 1, colour: 'palette:gone' },
  ]
  expect(told(() => {}, one({ fill: { kind: 'linear', angle: 0, stops } }))).toContain('palette:gone')
  expect(told((t) => Object.assign(t.palette[0]!, { colour: 'palette:shell' }))).toContain('a colour of its own')
  // What somebody wrote is no colour.
  expect(
    told(() => {}, templateOf([part('text', 't', axis([]), axis([]), { content: [{ text: 'palette:none' }] })])),
  ).toBe('taken')
})

test('a part that is its own matte, by itself or in a ring, or cut to its own group, is refused', () => {
  const cut = (id: string, by: string) => ({
    ...box(id, axis([], fixed(9))),
    matte: { part: by, by: 'alpha' as const, invert: false },
  })
  expect(told(() => {}, templateOf([cut('a', 'a')]))).toContain('Part "a" (a) is its own matte')
  expect(told(() => {}, templateOf([cut('a', 'b'), cut('b', 'a')]))).toContain("each other's mattes")
  expect(
    told(() => {}, templateOf([part('group', 'g', axis([]), axis([]), {}, { parts: [cut('a', 'g')] })])),
  ).toContain('the group that holds it')
  expect(told(() => {}, templateOf([cut('a', 'b'), cut('b', 'c'), box('c', axis([], fixed(9)))]))).toBe('taken')
  expect(() =>
    edit(templateOf([box('a', axis([], fixed(9)))]), { kind: 'matte', part: 'a', matte: cut('a', 'a').matte }),
  ).toThrow('its own matte')
})

test('a group that is tied to what it holds is refused', () => {
  const inside = [box('a', axis([], fixed(9)))]
  const tied = part('group', 'g', axis([tie('start', to('a'), 'start')], fixed(20)), axis([]), {}, { parts: inside })
  expect(told(() => {}, templateOf([tied]))).toContain('Group "g" (g) is tied to "a" (a), which it holds')
})

test('keys out of order, twice on a frame, or beyond their span are refused', () => {
  expect(told(() => {}, keyed(key('in', 0), key('in', 15), key('hold', 3), key('out', 15)))).toBe('taken')
  expect(told(() => {}, keyed(key('in', 8), key('in', 2)))).toContain('"fade" at In 2 after one at In 8')
  expect(told(() => {}, keyed(key('in', 8), key('in', 8)))).toContain('one a frame')
  expect(told(() => {}, keyed(key('out', 0), key('in', 8)))).toContain('at In 8 after one at Out 0')
  expect(told(() => {}, keyed(key('in', 16)))).toContain('at In 16, but In has 15 frames')
})

test('a Hold that loops says what', () => {
  const hold = (more: object) => told((t) => Object.assign(t.spans.hold, more))
  expect(hold({ gives: 'loop' })).toContain('Hold loops and says nothing of what')
  expect(hold({ gives: 'loop', loop: { from: 20, to: 10 } })).toContain('from 20 to 10')
  expect(hold({ gives: 'loop', loop: { from: 20, to: 999 } })).toContain('from 0 to 95')
  expect(hold({ gives: 'loop', loop: { from: 20, to: 60 } })).toBe('taken')
})

test('a default is of its field’s kind', () => {
  expect(told((t) => Object.assign(t.fields[0]!, { default: 7 }))).toBe(
    'template.json is not right: Field "Name" (name): default must be a text, in quotation marks.',
  )
  const wrong = { number: '7', switch: 'yes', texts: 'a', numbers: [1, '2'], style: 'big', shift: 4 } as const
  for (const [type, value] of Object.entries(wrong))
    expect(
      told((t) => t.fields.push(field({ id: 'x', key: 'x', type: type as 'text', default: value as never }))),
    ).toMatch(/Field "F" \(x\): default(\.\d)? must be /)
})

test('an unknown key is refused with the nearest known one; keys of one’s own stay', () => {
  const style = (own: object) => told((t) => Object.assign(t.parts[0]!.style, own))
  const { name, id } = speaker.parts[0]!
  expect(style({ fil: '#000000' })).toBe(
    `template.json is not right: Part "${name}" (${id}): style has no "fil"; did you mean "fill"?.`.replace('?.', '?'),
  )
  expect(style({ 'x-mine': 7 })).toBe('taken')
  expect(told((t) => Object.assign(t, { pallete: [] }))).toContain(
    'The document has no "pallete"; did you mean "palette"?',
  )
  expect(told((t) => Object.assign(t.spans.hold, { frame: 3 }))).toContain('did you mean "frames"?')
  expect(told((t) => Object.assign(t.fields[0]!, { requierd: true }))).toContain(
    'Field "Name" (name) has no "requierd"',
  )
  expect(told((t) => Object.assign(t.parts[0]!.motion, { wobble: 1 }))).toContain(
    'motion has no "wobble"; it knows anchor, tracks',
  )
})

test('names that every object has are names of nothing', () => {
  expect(told((t) => Object.assign(t.fields[0]!, { key: 'constructor' }))).toContain(
    'and not "constructor", which every object of a program has',
  )
  const { name, id } = speaker.parts[0]!
  for (const key of ['valueOf', 'toString', 'constructor', '__proto__']) {
    const odd = JSON.parse(JSON.stringify(speaker).replace('"style":{', `"style":{${JSON.stringify(key)}:{},`))
    expect(() => readTemplate(odd)).toThrow(
      `template.json is not right: Part "${name}" (${id}): style has no "${key}"; take it out.`,
    )
    expect(readTemplate({ ...odd, schema: 3 }).parts[0]!.style).toMatchObject({ [`x-${key}`]: {} })
    expect(readTemplate({ ...plain(speaker), 'x-mine': { [key]: 1 } } as never)).toBeDefined()
  }
  for (const colour of [{ toString: 1 }, { valueOf: {}, toString: {} }])
    expect(() => readTemplate({ ...plain(speaker), schema: 3, palette: [{ id: 'a', name: 'A', colour }] })).toThrow(
      Refusal,
    )
})

test('a part is named by its name and id wherever it lies, not by its number', () => {
  const inside = part(
    'group',
    'g',
    axis([]),
    axis([]),
    {},
    { name: 'Bar', parts: [{ ...box('a', axis([], fixed(9))), name: 'Plate' }] },
  )
  const message = told((t) => Object.assign(t.parts[0]!.parts![0]!.style, { opacity: 7 }), templateOf([inside]))
  expect(message).toMatch(
    /^template.json is not right: Part "Plate" \(a\): style.opacity must be a number from 0 to 1\.$/,
  )
  expect(told((t) => Object.assign(t.parts[0]!.x.ties[0] ?? {}, { at: 'left' }))).not.toContain('parts[')
})

test('a document of schema 3 that said what could not be meant is read as it was drawn, and nothing in it is lost', () => {
  const old = plain(
    templateOf(
      [
        {
          ...keyed(key('out', 2), key('in', 30, 1), key('in', 4)).parts[0]!,
          style: { fill: 'palette:none', fil: 1 },
          matte: { part: 'a', by: 'alpha', invert: false },
        } as never,
      ],
      { fields: [field({ default: 7 as never, type: 'text' })] },
    ),
  )
  const read = readTemplate({
    ...old,
    schema: 3,
    remark: 'kept',
    spans: { ...old.spans, hold: { frames: 9, gives: 'loop' } },
  })
  const [a] = read.parts
  expect(a).toMatchObject({ style: { fill: '#000000', 'x-fil': 1 } })
  expect(a!.matte).toBeUndefined()
  expect(a!.motion.tracks.fade!.keys).toEqual([key('in', 4), key('in', 15, 1), key('out', 2)])
  expect(read).toMatchObject({ schema: 5, 'x-remark': 'kept', spans: { hold: { gives: 'freeze' } } })
  expect(read.fields[0]!.default).toBe('7')
})
