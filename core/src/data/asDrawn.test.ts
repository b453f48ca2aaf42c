import type { Part, Template, Values } from '../template/index.ts'
import { axis, box, field, fixed, text, tie, to } from '../testing/parts.ts'
import { demoNames, demoScene, sceneOf } from '../testing/speaker.ts'
import { checkLayout, checkRow, generatedProofs, writeCell } from './index.ts'

const relationCodes = new Set(['leaves', 'over', 'bare', 'line', 'spacing', 'collide'])
const name = field({ id: 'n', key: 'name', name: 'Name', default: 'Io Marrec' })
const shows = { content: [{ field: 'n' }] }
const at = (px: number, size = fixed(10)) => axis([], size, { place: px })
const content = { kind: 'content' as const }

const found = (scene: ReturnType<typeof sceneOf>, values: Values) => {
  const layout = scene.layout(values)
  return checkLayout(scene, layout, scene.timing(layout))
}

/** What is said of a filling of some parts, by the relations as drawn. */
function said(parts: Part[], values: Values, more: Partial<Template> = {}): string[] {
  const scene = sceneOf(parts, { fields: [name], ...more })
  return found(scene, values)
    .filter(({ code }) => relationCodes.has(code))
    .map(({ code, message }) => `${code}: ${message}`)
}

const plate = { ...box('plate', at(180, fixed(400)), at(180, fixed(100))), name: 'Plate' }
const onIt = { ...text('t', '', at(200, content), shows), y: at(200, content), name: 'Name' } as Part

test('a long name that runs out of the plate it stands on is told, with the side and how far', () => {
  expect(said([plate, onIt], {})).toEqual([])
  const [one, ...rest] = said([plate, onIt], { name: 'Maximiliana Theodora von Hollenstein' })
  expect(rest).toEqual([])
  expect(one).toMatch(/^leaves: Name leaves Plate, \d+ px on the right\.$/)
  // The distance is that of the ink, measured on the settled title itself.
  const scene = sceneOf([plate, onIt], { fields: [name] })
  const layout = scene.layout({ name: 'Maximiliana Theodora von Hollenstein' })
  const { ink, line } = layout.blocks[1]!.boxes
  const right = 200 + ink.x - line.x + ink.width
  expect(one).toContain(`${Math.ceil(right - 580)} px`)
  // A plate that is tied to its text holds it whatever it says.
  const tied = { ...plate, x: axis([tie('start', to('t'), 'start', -20), tie('end', to('t'), 'end', 20)]) }
  expect(said([tied, onIt], { name: 'Maximiliana Theodora von Hollenstein' })).toEqual([])
})

test('an empty plate without its name is told, and not while something else stands on it', () => {
  expect(said([plate, onIt], { name: '' })).toEqual(['bare: Plate stands empty.'])
  const mark = { ...text('m', 'Vado', at(480, content)), y: at(200, content) } as Part
  expect(said([plate, mark, onIt], { name: '' })).toEqual([])
  // Of plates that lie in each other the innermost is told.
  const outer = { ...box('o', at(100, fixed(600)), at(100, fixed(300))), name: 'Outer' }
  expect(said([outer, plate, onIt], { name: '' })).toEqual(['bare: Plate stands empty.'])
  // A plate that goes with its text is not there to stand empty.
  const goes = { ...plate, x: axis([tie('start', to('t'), 'start', -20, { gone: 'hide' })], fixed(400)) }
  expect(said([goes, onIt], { name: '' })).toEqual([])
})

test('a rule that comes to lie over another text is told, and how far', () => {
  const speaker = { ...text('s', 'Hai', at(200, content)), y: at(300, content), name: 'Speaker' } as Part
  const rule = {
    ...box('r', axis([tie('start', to('t'), 'end', 12)], fixed(14)), at(200, fixed(160))),
    name: 'Rule',
  }
  const title = { ...onIt, y: at(200, content) } as Part
  expect(said([title, speaker, rule], {})).toEqual([])
  const [one, ...rest] = said([title, speaker, rule], { name: '' })
  expect(rest).toEqual([])
  expect(one).toMatch(/^over: Rule lies over Speaker, by \d+ px\.$/)
})

test('texts meet where their letters do, not where one reaches past the other', () => {
  const under = (y: number) => ({ ...text('u', 'HHH', at(300, content)), y: at(y, content), name: 'Under' }) as Part
  const title = { ...onIt, y: at(200, content) } as Part
  const inkOf = (values: Values, i: number, y: number) => {
    const { blocks, rest } = sceneOf([title, under(y)], { fields: [name] }).layout(values)
    const { ink, line } = blocks[i]!.boxes
    const top = rest.start[1][i]! + ink.y - line.y
    return [top, top + ink.height] as const
  }
  const [, above] = inkOf({ name: 'Io' }, 0, 400)
  const [, below] = inkOf({ name: 'g' }, 0, 400)
  const [top] = inkOf({}, 1, 400)
  // Its letters begin half-way down the descenders of the one above it.
  const low = under(400 + (above + below) / 2 - top)
  expect(said([title, low], {})).toEqual([])
  expect(said([title, low], { name: 'gIo Marrec' })).toEqual([])
  expect(said([title, low], { name: 'Io ggggg' })).toEqual([
    'collide: Under runs into Name, as it does not as designed.',
  ])
  // A rule that was drawn beside the last line of a text, within the room of the first.
  const two = { ...text('two', 'Maximiliana Theodora\nIo', at(200, content)), y: at(500, content), name: 'Two' } as Part
  const height = sceneOf([two]).layout({}).rest.size[1][0]!
  const told = {
    ...two,
    style: { ...two.style, content: [{ text: 'Maximiliana Theodora\n' }, { field: 'n' }] },
  } as Part
  const beside = { ...box('r', at(400, fixed(200)), at(500 + height * 0.6, fixed(height * 0.2))), name: 'Rule' }
  const short = [{ ...name, default: 'Io' }]
  expect(said([told, beside], {}, { fields: short })).toEqual([])
  expect(said([told, beside], { name: 'Io Marrec von Hollenstein' }, { fields: short })).toEqual([
    expect.stringMatching(/^over: Rule lies over Two, by \d+ px\.$/),
  ])
})

test('parts drawn in line, and evenly spaced, are told when they no longer are', () => {
  const mark = { ...box('m', axis([tie('start', to('t'), 'start')], fixed(60)), at(260, fixed(40))), name: 'Mark' }
  const ends = {
    ...text('t', '', axis([tie('end', { region: 'frame' }, 0, 700)]), shows),
    y: at(200, content),
    name: 'Name',
  } as Part
  // The name grows to the left; the foot stays where it was drawn, in line with the mark above it.
  const scene = sceneOf([ends, mark], { fields: [name] })
  const left = scene.layout({}).rest.start[0][1]!
  const foot = { ...box('f', at(left, fixed(60)), at(310, fixed(40))), name: 'Foot' }
  expect(said([ends, mark, foot], {})).toEqual([])
  expect(said([ends, mark, foot], { name: 'Io Marrec-Quéré' })).toEqual([
    expect.stringMatching(/^line: Foot no longer stands in line with Mark on the left, \d+ px off\.$/),
  ])
  const dot = (id: string, x: Part['x']) => ({ ...box(id, x, at(400, fixed(20))), name: id })
  const dots = (gap: number) => [
    dot('a', axis([tie('start', to('t'), 'end', gap)], fixed(20))),
    dot('b', axis([tie('start', to('a'), 'end', 100)], fixed(20))),
  ]
  const named = { ...onIt, style: { ...onIt.style, size: 30 } } as Part
  const end = sceneOf([named, ...dots(10)], { fields: [name] }).layout({}).rest.start[0][2]!
  const fixedDot = dot('c', at(end + 120, fixed(20)))
  expect(said([named, ...dots(10), fixedDot], {})).toEqual([])
  expect(said([named, ...dots(10), fixedDot], { name: 'Io' }).filter((s) => s.startsWith('spacing'))).toEqual([
    expect.stringMatching(/^spacing: a, b and c are no longer evenly spaced: 100 px and \d+ px apart\.$/),
  ])
})

test('shadows, clear surfaces, mattes, and what movement hides when all has arrived are not drawn there', () => {
  const far = { ...box('far', at(800, fixed(60)), at(200, fixed(60))), name: 'Far' }
  const long = { name: 'Maximiliana Theodora von Hollenstein' }
  expect(said([far, onIt], long)).toEqual([expect.stringMatching(/^over: Name lies over Far, by \d+ px\.$/)])
  for (const style of [{ fill: null }, { fill: '#12345600' }, { opacity: 0 }, { matteOnly: true }, { visible: false }])
    expect(said([{ ...far, style } as Part, onIt], long)).toEqual([])
  const cast = [{ x: 0, y: 0, blur: 80, colour: '#000000' }]
  const near = { ...box('near', at(180, fixed(400)), at(330, fixed(60)), { shadows: cast }), name: 'Near' }
  expect(said([near, onIt], {})).toEqual([])
  const gone = (channel: 'fade' | 'reveal') => ({
    ...far,
    motion: {
      ...far.motion,
      tracks: {
        [channel]: { from: 'left', soft: 0, slant: 0, keys: [{ span: 'in', at: 9, value: 0, ease: 'linear' }] },
      },
    },
  })
  expect(said([gone('fade') as Part, onIt], long)).toEqual([])
  expect(said([gone('reveal') as Part, onIt], long)).toEqual([])
})

test('an option of a choice is a drawing of its own', () => {
  const side = field({
    id: 'side',
    key: 'side',
    name: 'Side',
    type: 'choice',
    default: 'left',
    options: [
      { value: 'left', name: 'Left', sets: [] },
      { value: 'right', name: 'Right', sets: [{ part: 'plate', property: 'x', value: at(900, fixed(400)) }] },
    ],
  })
  expect(said([plate, onIt], { side: 'right' }, { fields: [name, side] })).toEqual([])
  expect(said([plate, onIt], { side: 'right', name: '' }, { fields: [name, side] })).toEqual([])
})

test('the designer weighs these as any other check', () => {
  const weigh = (leaves: 'stop' | 'off') => {
    const scene = sceneOf([plate, onIt], { fields: [name], levels: { leaves } })
    const layout = scene.layout({ name: 'Maximiliana Theodora von Hollenstein' })
    return checkLayout(scene, layout, scene.timing(scene.layout({}))).flatMap((f) =>
      f.code === 'leaves' ? [f.level] : [],
    )
  }
  expect([weigh('stop'), weigh('off')]).toEqual([['stop'], []])
})

const demos = await Promise.all(demoNames.map(demoScene))

test('the demo: as drawn nothing is said; in all of its proofs only what a designer would say', () => {
  const told: string[] = []
  for (const scene of demos) {
    const { template } = scene
    for (const { name: proof, values } of [
      { name: 'as drawn', values: {} },
      ...template.proofs,
      ...generatedProofs(template),
    ])
      for (const { code, message } of found(scene, values))
        if (relationCodes.has(code) && code !== 'collide') told.push(`${template.id}, ${proof}: ${message}`)
  }
  expect(told).toEqual([
    'score, no event: Band stands empty.',
    'speaker, mark missing: Mount stands empty.',
    'speaker-rtl, mark missing: Mount stands empty.',
    'species, picture missing: Mount stands empty.',
    // Two Arabic words at three times their size: their font reaches lower than the one that the panel was drawn with.
    'statement, right to left: In 9:16: Statement lies over Rule, by 3 px.',
    'talk, no title: Rule lies over Speaker, by 5 px.',
  ])
})

test('proofs and Fill say the same about the same filling', () => {
  for (const scene of demos) {
    const { template } = scene
    for (const { values } of [...template.proofs, ...generatedProofs(template)]) {
      const whole: Values = Object.fromEntries(
        template.fields.map(({ key, default: own }) => [key, values[key] ?? own]),
      )
      const cells = Object.fromEntries(template.fields.map((f) => [f.key, writeCell(template, f, whole[f.key]!)]))
      const match = Object.fromEntries(template.fields.map(({ key }) => [key, key]))
      expect(checkRow(scene, match, { cells }, 1).findings).toEqual(found(scene, whole))
    }
  }
})
