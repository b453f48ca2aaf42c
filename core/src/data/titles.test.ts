import { Scene } from '../scene/index.ts'
import { allParts, type Field, newPart, type Part, type Template } from '../template/index.ts'
import { axis, box as boxPart, field, fixed } from '../testing/parts.ts'
import { resources } from '../testing/raster.ts'
import { assets, demoScene, speaker } from '../testing/speaker.ts'
import { checkLayout, Looks } from './index.ts'

/** A copy of a template in which some parts are otherwise. */
function changed(
  template: Template,
  change: (part: (id: string) => Part & { style: Record<string, unknown> }, whole: Template) => unknown,
): Template {
  const copy = structuredClone(template)
  change((id) => allParts(copy.parts).find((part) => part.id === id) as never, copy)
  return copy
}

type Change = Parameters<typeof changed>[1]

/** A surface that lies over the words, on top of all. */
const over = (more: object = {}): Part =>
  ({
    ...boxPart('cover', axis([], fixed(1600), { place: 60 }), axis([], fixed(420), { place: 620 }), {
      fill: '#204060',
    }),
    name: 'Cover',
    ...more,
  }) as Part
const key = (at: number, value: number, span: 'in' | 'hold' | 'out' = 'in') => ({
  span,
  at,
  value,
  ease: 'linear' as const,
})
const onTop =
  (part: Part): Change =>
  (_, whole) =>
    void whole.parts.push(part)
const picture = (id: string, name: string, more: object = {}): Part =>
  ({
    ...newPart('picture', id, name),
    x: axis([], fixed(1600), { place: 60 }),
    y: axis([], fixed(420), { place: 620 }),
    style: { picture: 'vado.png', ...more },
  }) as Part
/** A field that switches a part on and off. */
const switching = (part: string, more: Partial<Field> = {}) =>
  field({
    id: 'sw',
    key: 'sw',
    name: 'Shown',
    type: 'switch',
    default: false,
    targets: [{ part, property: 'visible' }],
    ...more,
  })
const colouring = (part: string, property: 'fill' | 'colour') =>
  field({
    id: 'co',
    key: 'co',
    name: 'Colour',
    type: 'colour',
    free: true,
    default: '#f2ead8',
    targets: [{ part, property: property as never }],
  })

/** What is found of a title: its first shape, as a proof. */
function found(template: Template, values = {}): string[] {
  const scene = new Scene(template, assets)
  const layout = scene.layout(values)
  return checkLayout(scene, layout, scene.timing(layout), 1, new Looks(resources)).map(
    ({ level, code, part, message }) => `${level} ${code} ${part ?? ''}: ${message}`,
  )
}

/** Titles in which something is plainly wrong to the eye, and what must be said of each. */
const titles: [what: string, change: Change, said: RegExp, values?: object][] = [
  ['an opaque box drawn later covers the name', onTop(over()), /stop seen name: Name is not seen: Cover lies over it/],
  [
    'a picture drawn later covers the name',
    onTop(picture('photo', 'Photo')),
    /stop seen name: Name is (not|only partly) seen: Photo lies over it/,
  ],
  [
    'a box covers the name where a row switches it on',
    (_, whole) => {
      whole.parts.push({ ...over(), style: { ...over().style, visible: false } } as Part)
      whole.fields.push(switching('cover'))
    },
    /stop seen name: Name is not seen: Cover lies over it/,
    { sw: true },
  ],
  [
    'a picture covers the name where a row switches it on',
    (_, whole) => {
      whole.parts.push(picture('photo', 'Photo', { visible: false }))
      whole.fields.push(switching('photo'))
    },
    /stop seen name: Name is (not|only partly) seen: Photo lies over it/,
    { sw: true },
  ],
  [
    "the name in the plate's own colour",
    (part) => {
      part('plate').style.fill = '#103038'
      part('name').style.colour = '#103038'
    },
    /stop seen name: Name and Plate are the same colour/,
  ],
  [
    "the name in the plate's own colour as a row says",
    (part, whole) => {
      part('plate').style.fill = '#103038'
      part('name').style.colour = '#f2ead8'
      whole.fields.push(colouring('name', 'colour'))
    },
    /stop seen name: Name and Plate are the same colour/,
    { co: '#103038' },
  ],
  [
    'the name at opacity 0',
    (part) => Object.assign(part('name').style, { opacity: 0 }),
    /stop seen name: Name is not seen: it is 0 % opaque/,
  ],
  [
    'its group at opacity 0',
    (part) => Object.assign(part('words').style, { opacity: 0 }),
    /stop seen name: Name is not seen: Words, which holds it, is 0 % opaque/,
  ],
  [
    'the name faded out by the last key of In',
    (part) => Object.assign(part('name').motion.tracks, { fade: { keys: [key(0, 0), key(8, 1), key(15, 0)] } }),
    /stop seen name: Name is not seen: it is faded out while it holds/,
  ],
  [
    'its group faded out by the last key of In',
    (part) => Object.assign(part('words').motion.tracks, { fade: { keys: [key(0, 1), key(15, 0)] } }),
    /stop seen role: Role is not seen: Words, which holds it, is faded out while it holds/,
  ],
  [
    'the name moved away by the last key of In',
    (part) => Object.assign(part('name').motion.tracks, { shiftX: { unit: 'px', keys: [key(0, 0), key(15, -2400)] } }),
    /stop seen name: Name is not seen: it stands out of the frame while it holds/,
  ],
  [
    'the name made small by motion',
    (part) => Object.assign(part('name').motion.tracks, { scale: { keys: [key(0, 1), key(15, 0.08)] } }),
    /look small name: Name is 6 px high at 1080 lines as it is seen/,
  ],
  [
    'a matte cuts all of the name away',
    (part) => Object.assign(part('name'), { matte: { part: 'mount', by: 'alpha', invert: false } }),
    /stop seen name: Name is not seen: the matte Mount cuts all of it away/,
  ],
  [
    'an inverted matte cuts all of the name away',
    (part) => Object.assign(part('name'), { matte: { part: 'plate', by: 'alpha', invert: true } }),
    /stop seen name: Name is not seen: the matte Plate cuts all of it away/,
  ],
  [
    'a matte by luminance of what is black cuts all of the name away',
    (part) => {
      part('plate').style.fill = '#000000'
      part('name').matte = { part: 'plate', by: 'luminance', invert: false }
    },
    /stop seen name: Name is not seen: the matte Plate cuts all of it away/,
  ],
  [
    'the name half uncovered',
    (part) =>
      Object.assign(part('name').motion.tracks, {
        reveal: { from: 'left', soft: 0, slant: 0, keys: [key(0, 0), key(15, 0.5)] },
      }),
    /stop seen name: Name is only partly seen: it is uncovered by 50 % alone while it holds/,
  ],
  [
    'the name blurred by 30 px',
    (part) => Object.assign(part('name').style, { blur: 30 }),
    /(stop|look) (sharp|faint|seen) name/,
  ],
  [
    'the name upside down',
    (part) => Object.assign(part('name').style, { rotation: 180 }),
    /look turned name: Name is turned by 180°/,
  ],
  [
    'letters over each other',
    (part) => Object.assign(part('name').style, { tracking: -180 }),
    /look letters name: The letters of Name lie over one another/,
  ],
  [
    'lines over each other',
    (part) => Object.assign(part('name').style, { leading: 0.3, fit: [{ step: 'wrap', to: 2 }] }),
    /look letters name: The lines of Name lie over one another/,
    { name: 'Jean-Baptiste Quéré\nof the long quay' },
  ],
  [
    'two texts in one place as drawn',
    (part) => Object.assign(part('role'), { x: structuredClone(part('name').x), y: structuredClone(part('name').y) }),
    /look double name: Name and Role stand in one place as they are drawn/,
  ],
  ['an empty plate', () => {}, /(look|stop) nothing/, { name: '', role: '', mark: '' }],
  [
    'the plate switched off by a row',
    (_, whole) => whole.fields.push(switching('plate', { default: true })),
    /look ground name: Name was drawn on Plate, which is not there/,
    { sw: false },
  ],
  [
    'the plate at 2 % opacity',
    (part) => Object.assign(part('plate').style, { opacity: 0.02 }),
    /look ground name: Name was drawn on Plate, of which 2 % is left/,
  ],
  [
    'the mark at opacity 0',
    (part) => Object.assign(part('mark').style, { opacity: 0 }),
    /stop seen mark: Mark is not seen: it is 0 % opaque/,
  ],
  [
    'the mark covered',
    (part, whole) =>
      void whole.parts.push({
        ...over(),
        x: structuredClone(part('mount').x),
        y: structuredClone(part('mount').y),
      } as Part),
    /stop seen mark: Mark is not seen: Cover lies over it/,
  ],
  [
    'letters that never arrive',
    (part) =>
      Object.assign(part('name').motion, {
        segments: {
          by: 'character',
          order: 'forward',
          seed: 1,
          overlap: 0.5,
          tracks: { fade: { keys: [key(0, 0), key(15, 0)] } },
        },
      }),
    /stop seen name: Name is not seen: it is letter by letter faded to 0 %/,
  ],
]

const gradient = (from: string, to: string) => ({
  kind: 'linear' as const,
  angle: 0,
  stops: [
    { at: 0, colour: from },
    { at: 1, colour: to },
  ],
})
const small = (id: string, x: number, width: number, style: object = {}) =>
  ({
    ...boxPart(id, axis([], fixed(width), { place: x }), axis([], fixed(300), { place: 780 }), {
      fill: '#204060',
      ...style,
    }),
    name: 'Cover',
  }) as Part
const words = (id: string, text: string, style: object): Part =>
  ({
    ...newPart('text', id, 'Shout'),
    x: axis([], { kind: 'content' }, { place: 160 }),
    y: axis([], { kind: 'content' }, { place: 700 }),
    style: { content: [{ text }], font: 'semibold', ...style },
  }) as Part

/** More of them, written down before what follows was made. */
const more: [what: string, change: Change, said: RegExp, values?: object][] = [
  [
    'the highlight over the role',
    (_, whole) => {
      const all = whole.parts
      const highlight = all.splice(
        all.findIndex(({ id }) => id === 'highlight'),
        1,
      )[0]!
      all.push({ ...highlight, x: structuredClone(all[0]!.x), y: structuredClone(all[0]!.y) } as Part)
    },
    /seen (name|role)/,
  ],
  ['a cover of 97 %', onTop({ ...over(), style: { fill: '#204060', opacity: 0.97 } } as Part), /(seen|faint) name/],
  [
    'an ellipse with a gradient',
    onTop({ ...over(), kind: 'ellipse', style: { fill: gradient('#204060', '#406080') } } as unknown as Part),
    /seen name/,
  ],
  ['its second half covered', onTop(small('half', 560, 1200)), /seen name: Name is only partly seen: Cover/],
  [
    'white on a white box',
    (part) => {
      part('plate').style.fill = '#ffffff'
      part('name').style.colour = '#ffffff'
    },
    /same colour/,
  ],
  [
    'one level from the plate',
    (part) => {
      part('plate').style.fill = '#123036'
      part('name').style.colour = '#143238'
    },
    /(seen|faint) name/,
  ],
  ['dark grey on the dark plate', (part) => Object.assign(part('role').style, { colour: '#3a5055' }), /faint role/],
  ['a clear colour', (part) => Object.assign(part('name').style, { colour: '#ffffff00' }), /seen name/],
  [
    'a clear fill',
    (part) => Object.assign(part('name').style, { fill: gradient('#ffffff00', '#ffffff00') }),
    /seen name/,
  ],
  [
    'the group moved away',
    (part) =>
      Object.assign(part('words').motion.tracks, { shiftY: { unit: 'frame', keys: [key(0, 0), key(15, 0.5)] } }),
    /seen name: .*out of the frame/,
  ],
  [
    'half out of the frame',
    (part) => Object.assign(part('words').motion.tracks, { shiftX: { unit: 'px', keys: [key(0, 0), key(15, -420)] } }),
    /seen name/,
  ],
  [
    'turned by 135 by motion',
    (part) => Object.assign(part('name').motion.tracks, { turn: { keys: [key(0, 0), key(15, 135)] } }),
    /(turned|seen) name/,
  ],
  [
    'scaled to nothing',
    (part) => Object.assign(part('name').motion.tracks, { scale: { keys: [key(0, 1), key(15, 0)] } }),
    /seen name/,
  ],
  ['a group of a fifth of its size', (part) => Object.assign(part('words').style, { scale: 0.2 }), /small name/],
  ['blurred by 12', (part) => Object.assign(part('role').style, { blur: 12 }), /(sharp|faint|seen) role/],
  [
    'the group blurred by motion',
    (part) => Object.assign(part('words').motion.tracks, { blur: { keys: [key(0, 0), key(15, 14)] } }),
    /(sharp|faint|seen) name/,
  ],
  [
    'white multiplied',
    (part) => {
      part('name').style.colour = '#ffffff'
      part('name').style.blend = 'multiply'
    },
    /(seen|faint) name/,
  ],
  [
    'black screened',
    (part) => {
      part('name').style.colour = '#000000'
      part('name').style.blend = 'screen'
    },
    /(seen|faint) name/,
  ],
  [
    "the mark's matte away",
    (part) => Object.assign(part('mount').motion.tracks, { scale: { keys: [key(0, 1), key(15, 0)] } }),
    /seen mark/,
  ],
  ['the mark at 1 %', (part) => Object.assign(part('mark').style, { opacity: 0.01 }), /seen mark/],
  [
    'an inverted luminance matte of white',
    (part) => {
      part('plate').style.fill = '#ffffff'
      part('name').matte = { part: 'plate', by: 'luminance', invert: true }
    },
    /seen name: .*matte Plate/,
  ],
  [
    'a tenth uncovered',
    (part) =>
      Object.assign(part('role').motion.tracks, {
        reveal: { from: 'right', soft: 0, slant: 0, keys: [key(0, 0), key(15, 0.1)] },
      }),
    /seen role/,
  ],
  [
    'grown to nothing',
    (part) =>
      Object.assign(part('name').motion.tracks, { grow: { axis: 'x', from: 'start', keys: [key(0, 1), key(15, 0)] } }),
    /seen name/,
  ],
  [
    'letters that flew off',
    (part) =>
      Object.assign(part('name').motion, {
        segments: {
          by: 'character',
          order: 'forward',
          seed: 1,
          overlap: 0.5,
          tracks: { shiftY: { unit: 'px', keys: [key(0, 0), key(15, -1500)] } },
        },
      }),
    /seen name/,
  ],
  ['tracking of -200', (part) => Object.assign(part('role').style, { tracking: -200 }), /letters role/],
  [
    'a curve filled over it',
    (_, whole) =>
      void whole.parts.push({
        ...newPart('curve', 'cv', 'Curve'),
        x: over().x,
        y: over().y,
        style: { fill: '#204060', numbers: [5, 5, 5] },
      } as unknown as Part),
    /seen name/,
  ],
  [
    'huge letters over it',
    onTop(words('shout', 'MMMMMM', { size: 420, colour: '#204060', tracking: -120 })),
    /(seen|letters|faint)/,
  ],
  ['nothing but spaces', () => {}, /nothing/, { name: '   ', role: ' ', mark: '' }],
  [
    'the plate at 3 % as a row says',
    (_, whole) =>
      void whole.fields.push(
        field({
          id: 'op',
          key: 'op',
          name: 'Plate',
          type: 'number',
          default: 1,
          targets: [{ part: 'plate', property: 'opacity' }],
        }),
      ),
    /ground name/,
    { op: 0.03 },
  ],
  [
    'lowered under the frame by a group that holds its group',
    (_, whole) => {
      const at = whole.parts.findIndex(({ id }) => id === 'words')
      const inner = whole.parts[at]!
      whole.parts[at] = {
        ...newPart('group', 'outer', 'Outer'),
        parts: [inner],
        style: { opacity: 0.01 },
      } as unknown as Part
    },
    /seen name/,
  ],
  [
    'too short a look in a Hold that moves',
    (part, whole) => {
      whole.spans.hold.gives = 'stretch'
      part('name').motion.tracks.fade = { keys: [key(0, 1), key(0, 1, 'hold'), key(8, 0, 'hold')] }
    },
    /seen name/,
  ],
  [
    'the same as a picture filled surface',
    (part) => {
      part('plate').style.fill = '#808080'
      part('role').style.colour = '#8a8a8a'
    },
    /faint role|nearly the same colour/,
  ],
  [
    'mirrored',
    (part) => Object.assign(part('name').motion.tracks, { turn: { keys: [key(0, 0), key(15, 180)] } }),
    /turned name/,
  ],
  [
    'squeezed flat',
    (part) =>
      Object.assign(part('name').motion.tracks, {
        grow: { axis: 'y', from: 'start', keys: [key(0, 1), key(15, 0.1)] },
      }),
    /(seen|small) name/,
  ],
  [
    'a soft wipe that stopped',
    (part) =>
      Object.assign(part('name').motion.tracks, {
        reveal: { from: 'left', soft: 200, slant: 0, keys: [key(0, 0), key(15, 0.4)] },
      }),
    /seen name/,
  ],
  [
    'tinted to the colour of the plate',
    (part) => {
      part('plate').style.fill = '#103038'
      part('name').motion.tracks.colour = { to: '#103038', keys: [key(0, 0), key(15, 1)] }
    },
    /same colour|faint name/,
  ],
  [
    'letters spread out of the frame',
    (part) => Object.assign(part('name').motion.tracks, { track: { keys: [key(0, 0), key(15, 4000)] } }),
    /(seen|safe) /,
  ],
  [
    'the mark behind the plate',
    (_, whole) => {
      const all = whole.parts
      all.unshift(
        ...all.splice(
          all.findIndex(({ id }) => id === 'mark'),
          1,
        ),
      )
    },
    /seen mark/,
  ],
  [
    'the plate in front',
    (_, whole) => whole.parts.push(whole.parts.shift()!),
    /seen name: Name is not seen: Plate lies over it/,
  ],
  [
    'a box of the frame over all',
    onTop({ ...over(), x: axis([], fixed(1920), { place: 0 }), y: axis([], fixed(1080), { place: 0 }) } as Part),
    /seen name/,
  ],
]

test('what was looked at before changes nothing', () => {
  const all = [...titles, ...more].map(([, change, , values = {}]) => [changed(speaker, change), values] as const)
  const forwards = all.map(([template, values]) => found(template, values))
  const backwards = [...all].reverse().map(([template, values]) => found(template, values))
  expect(backwards.reverse()).toEqual(forwards)
})

test.each(more)('%s is told, too', (_, change, said, values = {}) => {
  expect(found(changed(speaker, change), values).join('\n')).toMatch(said)
})

test.each(titles)('%s is told', (_, change, said, values = {}) => {
  const all = found(changed(speaker, change), values)
  expect(all.join('\n')).toMatch(said)
})

test('as it ships nothing is told', () => expect(found(speaker)).toEqual([]))

test('a Chinese name in Japanese letter forms is told', async () => {
  const { template, assets: own } = await demoScene('speaker')
  const scene = new Scene({ ...template, language: 'zh-Hans' }, own)
  const said = (values: Record<string, string>, of = scene) => {
    const layout = of.layout(values)
    return checkLayout(of, layout, of.timing(layout), 1, new Looks(resources))
      .filter(({ code }) => code === 'language')
      .map(({ message }) => message)
  }
  expect(said({ name: '王小明' })[0]).toMatch(/Name is simplified Chinese, and .* has the Japanese forms/)
  const unsaid = new Scene(template, own)
  expect(said({ name: '王小明', role: 'Pilot' }, unsaid)[0]).toMatch(/Han letters in Japanese forms, and nobody says/)
  expect(said({ name: '海野 さくら', role: '潮汐研究員' }, unsaid)).toEqual([])
})

test('Turkish capitals without their dot are told', async () => {
  const { template, assets: own } = await demoScene('species')
  const scene = new Scene(template, own)
  const said = (common: string) => {
    const texts = template.fields.filter(({ type }) => type === 'text')
    const layout = scene.layout({ [texts[1]!.key]: common })
    return checkLayout(scene, layout, scene.timing(layout), 1, new Looks(resources))
      .filter(({ code }) => code === 'language')
      .map(({ message }) => message)
  }
  expect(said('Yeşil istiridye')[0]).toMatch(/in Turkish they are others \(YEŞİL, not YEŞIL\)/)
  expect(said('Oyster')).toEqual([])
  expect(said('Yeşil')).toHaveLength(1)
  expect(said('Γαρίδα')[0]).toMatch(/in Greek/)
})

/** What is meant so, and of which nothing may be said. */
const meant: [what: string, change: Change, values?: object][] = [
  [
    'a part that a switch hides',
    (part, whole) => {
      part('mark').style.visible = true
      whole.fields.push(switching('mark', { default: true }))
    },
    { sw: false },
  ],
  ['an empty text', () => {}, { name: 'Maren', role: '' }],
  [
    'a text that may stay unseen, and why',
    (part) => Object.assign(part('name'), { unseen: 'A watermark.', style: { ...part('name').style, opacity: 0.01 } }),
  ],
  [
    'what a group holds that may stay unseen',
    (part) => {
      Object.assign(part('words'), { unseen: 'It is for the proof alone.' })
      part('words').style.opacity = 0
    },
  ],
  [
    'a name that blinks in a loop',
    (part, whole) => {
      whole.spans.hold = { ...whole.spans.hold, gives: 'loop', loop: { from: 0, to: 24 } }
      const ease = { steps: 1, jump: 'end' as const }
      const keys = [0, 12, 24].map((at, i) => ({ span: 'hold' as const, at, value: i % 2 === 0 ? 1 : 0, ease }))
      Object.assign(part('name').motion.tracks, { fade: { keys: [key(0, 0), key(8, 1), ...keys] } })
    },
  ],
  [
    'a text that is only a matte',
    (part, whole) => {
      const cutter = words('cutter', 'SALT', { size: 60, matteOnly: true })
      whole.parts.unshift(cutter)
      Object.assign(part('edge'), { matte: { part: 'cutter', by: 'alpha', invert: true } })
    },
  ],
  [
    'a spacer that is clear',
    (_, whole) => whole.parts.push({ ...over(), style: { fill: '#204060', opacity: 0 } } as Part),
  ],
  ['a line up the side', (part) => Object.assign(part('role'), { style: { ...part('role').style, rotation: -4 } })],
  [
    'a strip from edge to edge, below all',
    (_, whole) =>
      whole.parts.unshift({
        ...boxPart('strip', axis([], fixed(1920), { place: 0 }), axis([], fixed(300), { place: 780 }), {
          fill: '#10202a',
        }),
      }),
  ],
  [
    'a text over footage alone',
    (_, whole) => whole.parts.push(words('bug', 'Orilla', { size: 40, colour: '#ffffff' })),
  ],
]

/** Kinds of finding that come of a look. */
const ofSight = /^\w+ (seen|faint|sharp|turned|letters|double|ground|nothing|safe\.action)/

test.each(meant)('%s is meant so, and nothing is said', (_, change, values = {}) => {
  expect(found(changed(speaker, change), values).filter((words) => ofSight.test(words))).toEqual([])
})
