import fc from 'fast-check'
import { boxOf } from '../layout/index.ts'
import { momentAt, spanStart } from '../motion/index.ts'
import { boundsOf, type Item, type LayerItem } from '../paint/index.ts'
import type { Field, Motion, Part, Template } from '../template/index.ts'
import { axis, content, field, fixed, part, text, tie, to } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'

const rate = { num: 25, den: 1 }
const frame = { width: 1920, height: 1080, rate, safe: { action: 0.035, title: 0.05 } }
const spans: Template['spans'] = { in: 10, out: 10, hold: { frames: 100, gives: 'freeze' } }

const list = (id: string, words: string[], more: Partial<Field> = {}): Field =>
  field({ id, key: id, name: id, type: 'texts', default: words, ...more })

const key = (span: 'in' | 'out', at: number, value: number) => ({ span, at, value, ease: 'linear' as const })
const fadesIn: Motion = {
  anchor: { x: 0.5, y: 0.5 },
  tracks: { fade: { keys: [key('in', 2, 0), key('in', 8, 1)] } },
  out: 'mirror',
}

/** A plate round words that come in turn. */
function statements(words: string[], style: object = {}, motion: Motion = fadesIn) {
  const said = text('said', '', axis([tie('start', { region: 'frame' }, 'start', 100)]), {
    content: [{ field: 'points' }],
    entries: 'in turn',
    ...style,
  })
  const plate = part(
    'box',
    'plate',
    axis([tie('start', to('said'), 'start', -20), tie('end', to('said'), 'end', 20)]),
    axis([tie('start', to('said'), 'start', -10), tie('end', to('said'), 'end', 10)]),
  )
  return sceneOf([plate, { ...said, motion } as Part], { frame, spans, fields: [list('points', words)] })
}

const layers = (items: readonly Item[]) => items.filter((item): item is LayerItem => item.kind === 'layer')

describe('texts in turn', () => {
  const words = ['Low tide at six', 'The mudflats close an hour before it', 'Stay on the boards']
  const scene = statements(words)
  const layout = scene.layout({})
  const timing = scene.timing(layout)

  test('each stands as long as it takes to read, and Hold is as long as they take', () => {
    const entries = scene.entries(layout)
    expect(entries.turns).toBe(3)
    // 170 words of 6 characters a minute are 17 characters a second; two seconds at least.
    const needs = words.map((one) => Math.max(50, Math.ceil((one.length / 17) * 25)))
    expect(timing.turns!.map(({ from, to: end }) => end - from)).toEqual(needs)
    // A move of 6 frames in and 6 out takes as long as what stands round it travels: 12.
    expect(timing.hold).toBe(needs.reduce((a, b) => a + b) + 2 * 12)
    expect(timing.total).toBe(timing.hold + 20)
  })

  test('a time that is asked for is shared in the same measure; too short a one is refused', () => {
    const asked = scene.timing(layout, 200)
    expect(asked.hold).toBe(180)
    const lengths = asked.turns!.map(({ from, to: end }) => end - from)
    expect(lengths.reduce((a, b) => a + b)).toBe(180 - 24)
    expect(lengths[1]).toBeGreaterThan(lengths[0]!)
    expect(scene.shortest(layout)).toBe(20 + 24 + 3)
    expect(scene.timing(layout, scene.shortest(layout)).total).toBe(47)
    expect(() => scene.timing(layout, 46)).toThrow('3 texts in turn need 27 frames of Hold and have 26')
  })

  test('while one stands everything is as in a title of that text alone', () => {
    timing.turns!.forEach((turn, i) => {
      const alone = scene.layout({ points: [words[i]!] })
      const at = timing.in + Math.floor((turn.from + turn.to) / 2)
      expect(scene.frame(layout, timing, at).items).toEqual(scene.restFrame(alone).items)
    })
  })

  test('it comes as the first and goes as the last, frame for frame', () => {
    const [first, last] = [scene.layout({ points: [words[0]!] }), scene.layout({ points: [words[2]!] })]
    for (let at = 0; at < 10; at++) {
      const own = scene.timing(first)
      expect(scene.frame(layout, timing, at).items).toEqual(scene.frame(first, own, at).items)
      const end = spanStart(timing, 'out') + at
      const alone = scene.timing(last)
      expect(scene.frame(layout, timing, end).items).toEqual(
        scene.frame(last, alone, spanStart(alone, 'out') + at).items,
      )
    }
  })

  test('in between the text leaves and the next comes by its own moves, and the plate travels without a jump', () => {
    const start = timing.in + timing.turns![0]!.to
    const at = (by: number) => scene.frame(layout, timing, start + by)
    const plateOf = (by: number) => boundsOf([layers(at(by).items)[0]!])!
    const [a, b] = [scene.layout({ points: [words[0]!] }), scene.layout({ points: [words[1]!] })]
    const box = (one: typeof a) => boxOf(one.rest, one.rest.order.index.get('plate')!)
    let before = box(a).width
    for (let by = 0; by < 12; by++) {
      const { width } = plateOf(by)
      expect(width).toBeGreaterThanOrEqual(before - 1e-6)
      before = width
    }
    expect(before).toBeLessThanOrEqual(box(b).width)
    expect(plateOf(0).width).toBeCloseTo(box(a).width, 6)
    expect(box(b).width - before).toBeLessThan((box(b).width - box(a).width) / 12)
    // Faded by its own keys: it leaves in 6 frames as it came, and the next comes in the last 6.
    const fade = (by: number) => layers(at(by).items)[1]?.opacity
    expect(fade(3)).toBeCloseTo(0.5, 6)
    expect(fade(9)).toBeCloseTo(0.5, 6)
  })

  test('moves that overlap are both drawn', () => {
    const early = statements(words, { entryOverlap: 4, entryTravel: 0 })
    const own = early.layout({})
    const times = early.timing(own)
    // 6 + 6 - 4 frames.
    expect(early.entries(own).change.frames).toBe(8)
    const drawn = layers(early.frame(own, times, times.in + times.turns![0]!.to + 4).items)
    expect(drawn.length).toBe(3)
  })

  test('texts without moves change over at once, half-way through what travels', () => {
    const still = statements(words, { entryTime: 'a set time', entrySeconds: 1 }, { ...fadesIn, tracks: {} })
    const own = still.layout({})
    const times = still.timing(own)
    expect(times.turns).toEqual([
      { from: 0, to: 25 },
      { from: 37, to: 62 },
      { from: 74, to: 99 },
    ])
    for (let by = 0; by < 12; by++) expect(still.frame(own, times, 10 + 25 + by).items.length).toBe(2)
  })

  test('a list of one, or of none, is a title like any other', () => {
    for (const points of [['Alone'], []]) {
      const own = scene.layout({ points })
      expect(scene.timing(own)).toEqual({ in: 10, hold: 100, out: 10, total: 120 })
    }
  })

  test('texts that share Hold have as much each, however long they are', () => {
    const shared = statements(words, { entryTime: 'its share of Hold' })
    const own = shared.layout({})
    const times = shared.timing(own)
    expect(times.hold).toBe(100)
    const lengths = times.turns!.map(({ from, to: end }) => end - from)
    expect(Math.max(...lengths) - Math.min(...lengths)).toBeLessThanOrEqual(1)
  })

  test('no frame is lost or told twice, whatever the texts and the time', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ minLength: 1, maxLength: 60 }), { minLength: 2, maxLength: 7 }),
        fc.nat(400),
        (points, more) => {
          const own = scene.layout({ points: points.map((one) => `${one}x`) })
          const times = scene.timing(own, scene.shortest(own) + more)
          const { turns } = times
          expect(turns![0]!.from).toBe(0)
          expect(turns!.at(-1)!.to).toBe(times.hold)
          turns!.forEach((turn, i) => {
            expect(turn.to).toBeGreaterThan(turn.from)
            if (i > 0) expect(turn.from - turns![i - 1]!.to).toBe(12)
          })
          expect(momentAt(times, times.in + times.hold).span).toBe('out')
        },
      ),
      { numRuns: 40 },
    )
  })
})

/** Credits: a heading, or what somebody did and who it was. */
function credits(lists: { head?: string[]; role?: string[]; name?: string[] }, style: object = {}) {
  const { head = [], role = [], name = [] } = lists
  const middle = { region: 'frame' as const }
  const size = { font: 'semibold', size: 40 }
  const parts: Part[] = [
    part('text', 'head', axis([tie('middle', middle, 'middle')]), axis([], content), {
      ...size,
      content: [{ field: 'head' }],
    }),
    part('text', 'role', axis([tie('end', middle, 'middle', -20)]), axis([], content), {
      ...size,
      content: [{ field: 'role' }],
    }),
    part('text', 'name', axis([tie('start', middle, 'middle', 20)]), axis([], content), {
      ...size,
      content: [{ field: 'name' }],
    }),
  ]
  const group = part(
    'group',
    'roll',
    axis([]),
    axis([]),
    { entries: 'rolling', runSpeed: 100, entryGap: 10, ...style },
    { parts },
  )
  return sceneOf([group], {
    frame,
    spans: { in: 0, out: 0, hold: { frames: 100, gives: 'freeze' } },
    fields: [list('head', head), list('role', role), list('name', name)],
  })
}

describe('a roll', () => {
  const names = Array.from({ length: 400 }, (_, i) => `Marrec ${'o'.repeat(i % 9)} ${i}`)
  const roles = names.map((_, i) => (i % 7 === 0 ? 'Camera' : ''))

  test('takes as long as its way takes at its speed, and shows everything once', () => {
    const scene = credits({ name: names.slice(0, 30), role: roles.slice(0, 30) })
    const layout = scene.layout({})
    const strip = [...scene.entries(layout).strips.values()][0]!
    expect(strip.window).toBe(1080)
    expect(strip.entries.length).toBe(30)
    const timing = scene.timing(layout)
    expect(timing.hold).toBe(Math.ceil((1080 + strip.length) / 4))
    // Nothing is in sight at its first frame, nothing after its last; the first name comes from below.
    expect(scene.frame(layout, timing, 0).items).toEqual([])
    const second = boundsOf(scene.frame(layout, timing, 12).items)!
    expect(second.y + second.height).toBeGreaterThan(1040)
    const last = boundsOf(scene.frame(layout, timing, timing.total - 1).items)
    expect(last === undefined || last.y + last.height < 60).toBe(true)
  })

  test('goes on by the same way in every frame, to a hundredth of a pixel, and a crawl does', () => {
    for (const [entries, at] of [
      ['rolling', 5],
      ['crawling', 4],
    ] as const) {
      const scene = credits({ name: names.slice(0, 40) }, { entries, runSpeed: 130 })
      const layout = scene.layout({})
      const timing = scene.timing(layout)
      const placeOf = (n: number) => {
        const strip = layers(layers(scene.frame(layout, timing, n).items)[0]!.items)[0]!
        return layers(strip.items).map(({ matrix, items }) => ({ at: matrix[at], what: items }))
      }
      let before = placeOf(300)
      for (let n = 301; n < 340; n++) {
        const now = placeOf(n)
        const same = now.filter(({ what }) => before.some((one) => one.what === what))
        expect(same.length).toBeGreaterThan(3)
        for (const one of same) {
          const was = before.find(({ what }) => what === one.what)!.at
          expect(Math.abs(was - one.at - 130 / 25)).toBeLessThan(0.01)
        }
        before = now
      }
    }
  })

  test('steady steps are whole px a frame, or one px in so many frames as go into a second', () => {
    for (const [speed, step] of [
      [100, 4],
      [130, 5],
      [20, 1],
      [4, 1 / 5],
      [1, 1 / 25],
    ] as const) {
      const scene = credits({ name: names.slice(0, 10) }, { runSteps: 'steady', runSpeed: speed })
      const [strip] = scene.entries(scene.layout({})).strips.values()
      expect(strip!.step(1)).toBeCloseTo(step, 9)
    }
  })

  test('ends on time when that is asked for, steadily a little before', () => {
    const scene = credits({ name: names.slice(0, 20) }, { runPace: 'to end on time' })
    const layout = scene.layout({})
    const [strip] = scene.entries(layout).strips.values()
    for (const frames of [100, 250, 777]) {
      const { hold } = scene.timing(layout, frames)
      expect(strip!.step(hold) * hold).toBeCloseTo(1080 + strip!.length, 6)
    }
    const steady = credits({ name: names.slice(0, 20) }, { runPace: 'to end on time', runSteps: 'steady' })
    const [own] = steady.entries(steady.layout({})).strips.values()
    expect(own!.step(250)).toBe(Math.ceil((1080 + own!.length) / 250))
  })

  test('a new page comes when the last one has left; pages that change stand by turns', () => {
    const three = ['Io', 'Ana', '---', 'Ossian', 'Pau']
    const scene = credits({ name: three })
    const [strip] = scene.entries(scene.layout({})).strips.values()
    const [, second, third] = strip!.entries
    expect(strip!.entries.length).toBe(4)
    expect(third!.at - second!.at - second!.size).toBe(1080)
    const pages = credits({ name: [...three, ...names.slice(0, 40)] }, { entries: 'in pages' })
    const layout = pages.layout({})
    const timing = pages.timing(layout)
    const [paged] = pages.entries(layout).strips.values()
    expect(paged!.pages.map(({ entries }) => entries.length).reduce((a, b) => a + b)).toBe(44)
    expect(paged!.pages[0]!.entries).toEqual([0, 1])
    expect(timing.turns!.length).toBe(paged!.pages.length)
    for (const turn of timing.turns!) {
      const { y, height } = boundsOf(pages.frame(layout, timing, turn.from).items)!
      expect(y).toBeGreaterThan(-20)
      expect(y + height).toBeLessThan(1100)
    }
  })

  test('an empty line among others has its place', () => {
    const scene = credits({ name: ['Io', '', 'Ana'] })
    const [strip] = scene.entries(scene.layout({})).strips.values()
    const [one, two, three] = strip!.entries
    expect(two!.size).toBeCloseTo(one!.size, 6)
    expect(three!.at).toBeCloseTo(2 * (one!.size + 10), 6)
  })

  test('over and over it never shows a gap longer than the one between entries', () => {
    const scene = credits(
      { name: ['Io Marrec', 'Ana'] },
      { entries: 'crawling', runPace: 'over and over', runSpeed: 500 },
    )
    const layout = scene.layout({})
    const timing = scene.timing(layout, 400)
    for (let n = 120; n < 400; n += 7) {
      const box = boundsOf(scene.frame(layout, timing, n).items)!
      expect(box.x).toBeLessThan(11)
      expect(box.x + box.width).toBeGreaterThan(1909)
    }
  })

  test('the other way round it comes from above', () => {
    const scene = credits({ name: names.slice(0, 5) }, { runSpeed: -100 })
    const layout = scene.layout({})
    const box = boundsOf(scene.frame(layout, scene.timing(layout), 5).items)!
    expect(box.y).toBeLessThan(20)
  })
})

test('a group with a height of its own is the window', () => {
  const names = ['Io', 'Ana', 'Ossian']
  const scene = credits({ name: names })
  const [group] = scene.template.parts
  const own = sceneOf([{ ...group!, y: axis([], fixed(200), { place: 300 }) } as Part], {
    frame,
    spans,
    fields: scene.template.fields,
  })
  const layout = own.layout({})
  const [strip] = own.entries(layout).strips.values()
  expect(strip!.window).toBe(200)
  const timing = own.timing(layout)
  for (let n = 0; n < timing.total; n += 5) {
    const clip = layers(layers(own.frame(layout, timing, n).items)[0]?.items ?? [])[0]?.clip
    if (clip) expect(clip).toContain('300')
  }
})
