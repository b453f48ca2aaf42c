import { edit, type Field, type Part, type Template } from '../template/index.ts'
import { axis, content, field, fixed, part, text, tie, to } from '../testing/parts.ts'
import { resources } from '../testing/raster.ts'
import { sceneOf } from '../testing/speaker.ts'
import { checkLayout } from './checks.ts'
import { Looks } from './looks.ts'

const rate = { num: 25, den: 1 }
const frame = { width: 1920, height: 1080, rate, safe: { action: 0.035, title: 0.05 } }
const spans: Template['spans'] = { in: 10, out: 10, hold: { frames: 100, gives: 'freeze' } }
const list = (id: string, words: string[]): Field =>
  field({ id, key: id, name: id, type: 'texts', default: words, sample: false })

/** What is found of a filling, by code. */
function found(parts: Part[], words: string[], frames?: number, more: Partial<Template> = {}) {
  const scene = sceneOf(parts, { frame, spans, fields: [list('points', words)], ...more })
  const layout = scene.layout({})
  return checkLayout(scene, layout, scene.timing(layout, frames))
}
const codes = (findings: ReturnType<typeof found>) => findings.map(({ code }) => code)

const inTurn = (style: object = {}) =>
  text(
    'said',
    '',
    axis([tie('start', { region: 'title' }, 'start')], content, {}),
    {
      content: [{ field: 'points' }],
      size: 40,
      entries: 'in turn',
      ...style,
    },
    { y: axis([], content, { place: 500 }), room: { kind: 'width', value: 700 } },
  )

test('each of some texts in turn is checked, and what is wrong with one alone says which', () => {
  const words = ['Low tide at six', 'Wonderful '.repeat(12).trim(), 'Stay on the boards']
  const findings = found([inTurn()], words).filter(({ code }) => code === 'overflow')
  expect(findings.map(({ message, level }) => [level, message])).toEqual([
    ['stop', expect.stringMatching(/^Text 2 of 3: said runs \d+ px past its room after every fit step; shorten it\.$/)],
  ])
  // What is wrong with all of them is told once, and of none.
  const all = found(
    [inTurn()],
    words.map(() => 'Wonderful '.repeat(12).trim()),
  ).filter(({ code }) => code === 'overflow')
  expect(all.map(({ message }) => message)).toEqual([expect.stringMatching(/^said runs/)])
})

test('each of some texts in turn is looked at over what lies under it in its own turn', () => {
  const { width, height } = frame
  const all = (fill: string) => [
    { kind: 'path' as const, d: `M0 0H${width}V${height}H0Z`, bounds: { x: 0, y: 0, width, height }, fill },
  ]
  const scene = sceneOf([inTurn({ colour: '#ffffff' })], {
    frame,
    spans,
    fields: [list('points', ['Low tide at six', 'Boats at seven', 'Stay on the boards'])],
  })
  const layout = scene.layout({})
  const over = (fills: readonly string[]) =>
    checkLayout(scene, layout, scene.timing(layout), 1, new Looks(resources).over(fills.map(all)))
      .filter(({ code }) => code === 'seen')
      .map(({ message }) => message)
  const same = 'said and the footage under it are the same colour.'
  expect(over(['#ffffff', '#000000', '#000000'])).toEqual([`Text 1 of 3: ${same}`])
  expect(over(['#000000', '#000000', '#ffffff'])).toEqual([`Text 3 of 3: ${same}`])
  expect(over(['#000000', '#000000', '#000000'])).toEqual([])
})

test('a time in which a text in turn cannot be read is a look, text by text', () => {
  const words = ['Low tide at six', 'The mudflats close an hour before it, and the causeway two hours after']
  expect(codes(found([inTurn()], words))).not.toContain('reading')
  const short = found([inTurn({ entryTime: 'a set time', entrySeconds: 1.5 })], words)
  expect(short.filter(({ code }) => code === 'reading').map(({ message }) => message)).toEqual([
    'Text 2 of 2 takes about 4.1 s to read and stands for 1.5 s; make the title longer, or shorten the text.',
  ])
})

/** Names that roll through the frame, or crawl through a window. */
const running = (style: object, name: object = {}): Part =>
  part(
    'group',
    'run',
    axis([]),
    axis([]),
    { entries: 'rolling', entryGap: 10, ...style },
    {
      name: 'Run',
      parts: [
        text(
          'name',
          '',
          axis([tie('middle', { region: 'frame' }, 'middle')]),
          {
            content: [{ field: 'points' }],
            size: 40,
            ...name,
          },
          { y: axis([], content, { place: 500 }) },
        ),
      ],
    },
  )
const names = Array.from({ length: 30 }, (_, i) => `Maren Oduya ${i}`)

test('of many entries that are wrong alike the first is told, and how many there are', () => {
  const odd = names.map((name, i) => (i % 10 === 3 ? `${name} \ue123` : name))
  const [finding, ...others] = found([running({ runSpeed: 100 })], odd).filter(({ code }) => code === 'missing')
  expect(others).toEqual([])
  expect(finding!.message).toMatch(/^Entry 4 \(and 2 more\): name has a character/)
  expect(finding!.level).toBe('stop')
})

test('an entry that is wider than title-safe stops; where it runs through it may', () => {
  const wide = [...names.slice(0, 3), 'A name that nobody could have '.repeat(5)]
  const found1 = found([running({ runSpeed: 100 })], wide).filter(({ code }) => code === 'safe.title')
  expect(found1.map(({ message }) => message)).toEqual([
    expect.stringMatching(/^Entry 4: name stands \d+ px outside title-safe\.$/),
  ])
  expect(codes(found([running({ runSpeed: 100 })], names))).toEqual([])
})

test('a roll that is longer than its title stops, and one too fast to read is a look; so is a crawl', () => {
  const fits = [running({ runSpeed: 100 })]
  expect(codes(found(fits, names))).toEqual([])
  const [cut] = found(fits, names, 300)
  expect(cut).toMatchObject({ code: 'run', level: 'stop', part: 'run' })
  expect(cut!.message).toMatch(
    /^Run takes 2\d\.\d s at its speed and has 11\.2 s, so its end is not seen; give the title \d+ frames more, or let it end on time\.$/,
  )
  expect(codes(found([running({ runSpeed: 100, runPace: 'to end on time' })], names, 800))).toEqual([])

  const fast = found([running({ runSpeed: 1200 })], names)
  expect(fast).toEqual([
    expect.objectContaining({
      code: 'pace',
      level: 'look',
      message: expect.stringMatching(
        /^Run rolls at 1200 px\/s, too fast for entry 1 to be read; slow it to \d+ px\/s\.$/,
      ),
    }),
  ])
  const crawl = (speed: number) => found([running({ entries: 'crawling', runSpeed: speed })], names)
  const [message] = crawl(800).map((finding) => finding.message)
  expect(message).toMatch(/^Run passes at \d+ characters a second, and 17 are read with ease; slow it to \d+ px\/s\.$/)
  // What it says it is to be slowed to is slow enough, and a tenth more is not.
  const slow = Number(/to (\d+) px/.exec(message!)![1])
  expect(codes(crawl(slow))).toEqual([])
  expect(codes(crawl(slow * 1.1))).toEqual(['pace'])
})

test('in another shape it takes as long as it takes there', () => {
  const shape = {
    id: 'up',
    name: '9:16',
    width: 1080,
    height: 1920,
    safe: frame.safe,
    guides: [],
    sets: [],
    options: [],
  }
  expect(codes(found([running({ runSpeed: 100 })], names, undefined, { shapes: [shape] }))).toEqual([])
})

test('what is tied inside a group between two ties holds to the group, whatever that holds', () => {
  const inside = text('name', '', axis([tie('start', { region: 'group' }, 'start', 12)]), {
    content: [{ field: 'points' }],
  })
  const group = part(
    'group',
    'run',
    axis([tie('start', { region: 'frame' }, 'start', 200), tie('end', { region: 'frame' }, 'end', -300)]),
    axis([]),
    {},
    { parts: [inside] },
  )
  const scene = sceneOf([group], { frame, spans, fields: [list('points', ['Io'])] })
  const { rest } = scene.layout({})
  expect([rest.start[0][0], rest.size[0][0], rest.start[0][1]]).toEqual([200, 1420, 212])
})

test('a path that hangs on the text that runs along it is a ring, and refused', () => {
  const way = part(
    'ellipse',
    'way',
    axis([tie('start', to('a'), 'start'), tie('end', to('a'), 'end')]),
    axis([], fixed(100)),
  )
  const scene = sceneOf([way, text('a', 'estuary')])
  expect(() => edit(scene.template, { kind: 'style', part: 'a', key: 'along', value: 'way' })).toThrow(/way|a/)
})
