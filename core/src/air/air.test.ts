import fc from 'fast-check'
import { templateFor } from '../output/index.ts'
import { boundsOf, type Item } from '../paint/index.ts'
import type { Refusal } from '../refusal/index.ts'
import { Scene } from '../scene/index.ts'
import { allParts, edit } from '../template/index.ts'
import { demoScene } from '../testing/speaker.ts'
import {
  type AirDesign,
  type AirItem,
  AirTitles,
  airDesign,
  type Channel,
  type Command,
  carriedOut,
  cellsNow,
  emptyChannel,
  frameAt,
  layerPhase,
  measuredRun,
  momentOf,
  phaseOf,
  runAt,
  runItems,
  secondsCounted,
  startRun,
  upOn,
  wallClock,
  withFirst,
  withList,
  withPause,
} from './index.ts'

const design: AirDesign = {
  template: 'speaker',
  name: 'Speaker',
  number: 1,
  in: 30,
  out: 30,
  update: 15,
  onAir: ['role'],
  lists: [],
  words: ['name', 'role'],
}
const item = (id: string, more: Partial<AirItem> = {}): AirItem => ({
  id,
  version: 1,
  layer: 'a',
  cells: { name: id, role: 'Pilot' },
  live: {},
  ...more,
})
const frame = {
  width: 1920,
  height: 1080,
  rate: { num: 50, den: 1 },
  layers: [
    { id: 'a', name: 'Titles' },
    { id: 'b', name: 'Crawl' },
  ],
}

/** A channel that is told things one after another. */
class Told {
  channel: Channel
  constructor(list: AirItem[], more: Partial<Channel> = {}) {
    this.channel = { ...emptyChannel(frame), ...more }
    this.do(0, { kind: 'add', items: list, designs: { 1: design, 2: { ...design, template: 'tide' } } })
  }
  do(at: number, command: Command): this {
    this.channel = carriedOut(this.channel, { n: this.channel.n + 1, frame: at, command })
    return this
  }
  refusal(at: number, command: Command): string {
    try {
      carriedOut(this.channel, { n: 0, frame: at, command })
    } catch (error) {
      return (error as Refusal).message
    }
    return ''
  }
  phase = (at: number, layer = 'a') => layerPhase(this.channel, this.channel.air, layer, at)
  ups = (layer = 'a') => this.channel.air.layers[layer] ?? []
}

test('a title goes through its states by the frame, and waits in its hold until it is told to leave', () => {
  const told = new Told([item('Io'), item('Maren')])
  expect(told.phase(99)).toBe('cued')
  told.do(100, { kind: 'take', item: 'Io' })
  expect([100, 129, 130, 1e6].map((at) => told.phase(at))).toEqual(['coming in', 'coming in', 'holding', 'holding'])
  told.do(500, { kind: 'update', cells: { role: 'Diver' } })
  expect([500, 514, 515].map((at) => told.phase(at))).toEqual(['updating', 'updating', 'holding'])
  told.do(600, { kind: 'out' })
  expect([600, 629, 630].map((at) => told.phase(at))).toEqual(['leaving', 'leaving', 'cued'])
  expect(told.channel.air).toMatchObject({ next: 'Maren', done: ['Io'] })
  // In is never cut short.
  told.do(700, { kind: 'take', item: 'Maren' }).do(705, { kind: 'out' })
  expect([729, 730, 759, 760].map((at) => told.phase(at))).toEqual(['coming in', 'leaving', 'leaving', 'empty'])
})

test('a title taken over another goes over in its place, or waits until the other has left, as set', () => {
  const list = [item('Io'), item('Maren'), item('Tide', { version: 2 })]
  const over = new Told(list).do(100, { kind: 'take', item: 'Io' }).do(300, { kind: 'take', item: 'Maren' })
  expect(over.ups()).toHaveLength(1)
  expect(over.ups()[0]).toMatchObject({
    item: 'Maren',
    began: 100,
    changes: [{ frame: 300, cells: { name: 'Maren' } }],
  })
  // Another template can't go over: both move at once.
  over.do(400, { kind: 'take', item: 'Tide' })
  expect(over.ups().map(({ item: of, began, out }) => [of, began, out])).toEqual([
    ['Maren', 100, 400],
    ['Tide', 400, undefined],
  ])
  const first = new Told(list, { over: 'out first' }).do(100, { kind: 'take', item: 'Io' })
  first.do(300, { kind: 'take', item: 'Maren' })
  expect(first.ups().map(({ item: of, began, out }) => [of, began, out])).toEqual([
    ['Io', 100, 300],
    ['Maren', 330, undefined],
  ])
  expect([310, 330].map((at) => first.phase(at))).toEqual(['leaving', 'coming in'])
  // Another one instead of what was only about to come.
  first.do(310, { kind: 'take', item: 'Tide' })
  expect(first.ups().map(({ item: of }) => of)).toEqual(['Io', 'Tide'])
})

test('what may not change while a title is up does not, nothing is told to what is not up, and layers are told apart', () => {
  const told = new Told([item('Io'), item('Run', { layer: 'b' })])
  expect(told.refusal(1, { kind: 'out' })).toBe('Nothing is up on Titles.')
  expect(told.refusal(1, { kind: 'take', item: 'nobody' })).toContain('not on the running list')
  told.do(100, { kind: 'take', item: 'Io' }).do(100, { kind: 'take', item: 'Run' })
  expect(told.refusal(200, { kind: 'out' })).toBe('Titles are up on Titles and Crawl; say which is meant.')
  expect(told.refusal(200, { kind: 'out', layer: 'z' })).toBe('This channel has no layer "z".')
  const follows = { name: { kind: 'clock', shows: 'time' } } as const
  expect(told.refusal(200, { kind: 'change', item: 'Io', live: follows })).toContain('"name" is locked')
  expect(told.refusal(200, { kind: 'add', items: [item('x', { live: follows })], designs: {} })).toContain('is locked')
  told.do(200, { kind: 'cut', layer: 'b' })
  expect([told.phase(200), told.phase(200, 'b')]).toEqual(['holding', 'empty'])
  told.do(210, { kind: 'clear' })
  expect(told.channel.air).toMatchObject({ layers: {}, next: undefined })
})

test('a title that is held for a time leaves by itself, and an edit of the one that waits changes nothing that is up', () => {
  const told = new Told([item('Io', { hold: 4 }), item('Maren')]).do(100, { kind: 'take', item: 'Io' })
  const up = told.ups()[0]
  told.do(120, { kind: 'change', item: 'Maren', cells: { name: 'Maren O.' } })
  told.do(120, { kind: 'change', item: 'Io', cells: { name: 'Somebody' } })
  expect(told.ups()[0]).toEqual(up)
  expect([329, 330, 360].map((at) => phaseOf(up!, design, at))).toEqual(['holding', 'leaving', 'gone'])
  told.do(400, { kind: 'change', item: 'Io', hold: 'by hand' })
  expect(told.channel.list[0]).not.toHaveProperty('hold')
})

test('the list: what is next follows it through moves and removals, and loops when it is told to', () => {
  const told = new Told([item('a1'), item('a2'), item('a3')])
  expect(told.channel.air.next).toBe('a1')
  told.do(1, { kind: 'move', items: ['a3'], before: 'a1' })
  expect(told.channel.list.map(({ id }) => id)).toEqual(['a3', 'a1', 'a2'])
  expect(told.channel.air.next).toBe('a1')
  told.do(2, { kind: 'remove', items: ['a1'] })
  expect(told.channel.air.next).toBe('a2')
  told.do(3, { kind: 'take', item: 'a2' })
  expect(told.channel.air.next).toBeUndefined()
  told.do(4, { kind: 'set', loops: true }).do(900, { kind: 'take', item: 'a2' })
  expect(told.channel.air.next).toBe('a3')
  told.do(901, { kind: 'again' })
  expect(told.channel.air).toMatchObject({ next: 'a3', done: [] })
  expect(told.refusal(5, { kind: 'add', items: [item('a2')], designs: {} })).toContain('two titles'.replace('t', 'T'))
})

test('a rehearsal touches nothing that is on air, and leaves nothing behind', () => {
  const told = new Told([item('Io'), item('Maren')]).do(100, { kind: 'take', item: 'Io' })
  const { air } = told.channel
  told.do(200, { kind: 'rehearse', on: true }).do(210, { kind: 'take', item: 'Maren' }).do(300, { kind: 'out' })
  expect(told.channel.air).toEqual(air)
  expect(told.channel.rehearsal!.layers.a![0]).toMatchObject({ item: 'Maren', out: 300 })
  told.do(400, { kind: 'rehearse', on: false })
  expect(told.channel).not.toHaveProperty('rehearsal')
  expect(told.channel.air).toEqual(air)
})

test('a source changes the fields that follow it; a hand goes before it until it lets go; a dead one does as it was told', () => {
  const follows = (does: object) =>
    item('Io', {
      live: { role: { kind: 'value', sheet: 7, path: '$[0].h', most: 5, dead: { after: 5, ...does } as never } },
    })
  const value = (text: string | undefined, isDead = false): Command => ({
    kind: 'value',
    sheet: 7,
    path: '$[0].h',
    value: { text, dead: isDead, trouble: '', read: 0 },
  })
  const role = (told: Told) => cellsNow(told.ups()[0]!).role
  const told = new Told([follows({ shows: 'last' })]).do(1, value('3.1')).do(100, { kind: 'take', item: 'Io' })
  expect(role(told)).toBe('3.1')
  told.do(200, value('3.2'))
  expect(role(told)).toBe('3.2')
  told.do(210, { kind: 'update', cells: { role: 'by hand' } }).do(220, value('3.3'))
  expect(role(told)).toBe('by hand')
  told.do(230, { kind: 'release', field: 'role', cells: {} })
  expect(role(told)).toBe('3.3')
  told.do(240, value('3.3', true))
  expect(role(told)).toBe('3.3')
  const hides = new Told([follows({ shows: 'nothing' })]).do(1, value('3.1')).do(100, { kind: 'take', item: 'Io' })
  expect(role(hides.do(110, value('3.1', true)))).toBe('')
  expect(role(hides.do(120, value('3.4')))).toBe('3.4')
  const says = new Told([follows({ shows: 'text', text: 'no reading' })]).do(1, value(undefined, true))
  expect(role(says.do(100, { kind: 'take', item: 'Io' }))).toBe('no reading')
})

test('twenty updates a second for an hour leave a state no larger than after the first few', () => {
  const told = new Told([item('Io')]).do(0, { kind: 'take', item: 'Io' })
  const size = () => JSON.stringify(told.channel).length
  let most = 0
  for (let i = 0; i < 1000; i++) {
    told.do(100 + i * 2.5, { kind: 'update', cells: { role: String(i).padStart(4, '0') } })
    most = Math.max(most, told.ups()[0]!.changes.length)
  }
  expect(most).toBeLessThanOrEqual(512)
  expect(cellsNow(told.ups()[0]!).role).toBe('0999')
  const before = size()
  for (let i = 0; i < 1000; i++)
    told.do(3000 + i * 2.5, { kind: 'update', cells: { role: String(i).padStart(4, '0') } })
  // But for longer numbers.
  expect(size()).toBeLessThan(before * 1.05)
})

test('whoever carries out the same commands, from the start or from a state on the way, has the same channel', () => {
  const command = fc.oneof(
    fc.constantFrom('a1', 'a2', 'b1').map((of): Command => ({ kind: 'take', item: of })),
    fc.constantFrom('a', 'b').map((layer): Command => ({ kind: 'out', layer })),
    fc.constantFrom('a', 'b').map((layer): Command => ({ kind: 'cut', layer })),
    fc.string({ maxLength: 3 }).map((role): Command => ({ kind: 'update', layer: 'a', cells: { role } })),
    fc.constantFrom<Command>({ kind: 'clear' }, { kind: 'rehearse', on: true }, { kind: 'rehearse', on: false }),
    fc.constantFrom<Command>({ kind: 'set', over: 'out first' }, { kind: 'set', over: 'goes over' }),
  )
  fc.assert(
    fc.property(fc.array(fc.tuple(command, fc.integer({ min: 0, max: 90 })), { maxLength: 40 }), (steps) => {
      const start = new Told([item('a1', { hold: 1 }), item('a2'), item('b1', { layer: 'b', version: 2 })]).channel
      let at = 0
      let [one, other] = [start, start]
      for (const [what, after] of steps) {
        at += after
        const next = { n: one.n + 1, frame: at, command: what }
        try {
          one = carriedOut(one, next)
        } catch {
          continue
        }
        // As it comes over the network, or out of the database.
        other = carriedOut(JSON.parse(JSON.stringify(other)), JSON.parse(JSON.stringify(next)))
      }
      expect(JSON.parse(JSON.stringify(other))).toEqual(JSON.parse(JSON.stringify(one)))
      for (const { id } of one.layers) {
        const stays = (one.air.layers[id] ?? []).filter((up) => up.out === undefined)
        expect(stays.length).toBeLessThanOrEqual(1)
        void upOn(one, one.air, id, at)
      }
    }),
    { numRuns: 200 },
  )
})

const way = { window: 1000, gap: 34, step: 2.345678, back: false }
const sized = (...words: string[]) =>
  runItems(words.map((text) => ({ texts: { notice: text }, size: 100 + text.length * 20 })))

test('an endless run goes on by the same step at every frame, to a hundredth of a pixel, for an hour and longer', () => {
  const run = startRun(way, sized('one', 'two words', 'three'), 0)
  const hour = 3600 * 60
  for (const from of [0, 1000, hour, 24 * hour]) {
    let before = runAt(run, from)
    for (let at = from + 1; at < from + 600; at++) {
      const now = runAt(run, at)
      for (const placed of now.placed) {
        const was = before.placed.find((one) => one.at === placed.at)
        if (was) expect(now.gone - placed.at - (before.gone - was.at)).toBeCloseTo(way.step, 2)
      }
      // Nothing is left out between two, and none lies over another.
      now.placed.forEach((placed, i) => {
        const next = now.placed[i + 1]
        if (next) expect(next.at).toBeCloseTo(placed.at + placed.size + way.gap, 6)
      })
      before = now
    }
  }
  // Gone through frame by frame, or at once: the same.
  let stepped = run
  for (let at = 0; at < 20_000; at++) stepped = runAt(stepped, at)
  const once = runAt(run, 19_999)
  expect(stepped.placed.map(({ id }) => id)).toEqual(once.placed.map(({ id }) => id))
  expect(stepped.gone).toBeCloseTo(once.gone, 4)
})

test('items come, change and go without a jump of what is in sight; a pause stands; what comes first comes before all', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          after: fc.integer({ min: 1, max: 900 }),
          words: fc.array(fc.constantFrom('a', 'bb', 'ccc', 'dddd', 'eeeee'), { maxLength: 5 }),
          what: fc.constantFrom('list', 'pause', 'go on', 'first'),
        }),
        { maxLength: 15 },
      ),
      (steps) => {
        let run = startRun(way, sized('a', 'bb', 'ccc'), 0)
        let at = 0
        for (const { after, words, what } of steps) {
          at += after
          const before = runAt(run, at)
          if (what === 'list') run = withList(run, sized(...words), at)
          else if (what === 'first') run = withFirst(run, sized('breaking')[0]!, at)
          else run = withPause(run, what === 'pause', at)
          const now = runAt(run, at)
          expect(now.gone).toBe(before.gone)
          const inSight = ({ placed, gone }: typeof now) => placed.filter((one) => gone > one.at)
          expect(inSight(now)).toEqual(inSight(before))
          if (what === 'pause') expect(runAt(run, at + 500).gone).toBe(before.gone)
        }
      },
    ),
    { numRuns: 200 },
  )
  const run = withFirst(startRun(way, sized('a', 'bb'), 0), sized('breaking')[0]!, 10)
  const order: string[] = []
  for (let f = 0; f < 2000; f++)
    for (const { id, at } of runAt(run, f).placed) if (!order.includes(`${at} ${id}`)) order.push(`${at} ${id}`)
  expect(order.slice(0, 4).map((one) => JSON.parse(one.slice(one.indexOf('{'), one.indexOf('}') + 1)).notice)).toEqual([
    'a',
    'breaking',
    'bb',
    'a',
  ])
})

test('a removed item is not put in again, one that is added comes in its place, and the list goes on where it was', () => {
  const run = startRun(way, sized('a', 'b', 'c', 'd'), 0)
  // 'a' and 'b' have begun; 'c' is to come.
  const now = runAt(run, 80)
  expect(now.placed.map(({ texts }) => texts.notice)).toEqual(['a', 'b'])
  const changed = withList(run, sized('a', 'b', 'x', 'd'), 80)
  expect(runAt(changed, 300).placed.map(({ texts }) => texts.notice)).toEqual(expect.arrayContaining(['a', 'b', 'd']))
  expect(runAt(changed, 300).placed[2]!.texts.notice).toBe('d')
  const empty = withList(run, [], 80)
  expect(runAt(empty, 5000).placed).toEqual([])
  const again = withList(empty, sized('new'), 5000)
  const [first] = runAt(again, 5001).placed
  expect(runAt(again, 5001).gone - first!.at).toBeCloseTo(way.step, 6)
})

test('clocks: up from the full second, down so that 0 is said when the moment is there, by the clock on the wall', () => {
  const noon = Date.UTC(2026, 10, 26, 12)
  const at = (ms: number) => ({ now: noon + ms, offset: 60, taken: noon - 1500 })
  const until = { kind: 'clock', shows: 'until', moment: '13:00' } as const
  expect([-61_000, -60_001, -1000, -999, -1, 0, 5000].map((ms) => secondsCounted(until, at(ms)))).toEqual([
    61, 61, 1, 1, 1, 0, 0,
  ])
  const since = { kind: 'clock', shows: 'since', moment: '2026-11-26T12:59:00' } as const
  expect([0, 999, 1000].map((ms) => secondsCounted(since, at(ms)))).toEqual([60, 60, 61])
  expect(secondsCounted({ kind: 'clock', shows: 'since take' }, at(0))).toBe(1)
  expect(wallClock(noon, 60)).toBe('2026-11-26T13:00:00')
  // The frame at which a second is full, at every rate of the trade.
  for (const rate of [
    { num: 25, den: 1 },
    { num: 50, den: 1 },
    { num: 60, den: 1 },
    { num: 30_000, den: 1001 },
    { num: 60_000, den: 1001 },
  ]) {
    const full = frameAt({ rate }, noon)
    expect(Math.abs(momentOf({ rate }, full) - noon)).toBeLessThan((1000 * rate.den) / rate.num)
    for (let f = full - 50; f < full + 50; f++) expect(frameAt({ rate }, momentOf({ rate }, f))).toBe(f)
  }
})

const sceneFor = async (name: string, rate: number): Promise<Scene> => {
  const scene = await demoScene(name)
  return new Scene(templateFor({ rate: { num: rate, den: 1 } }, scene.template), scene.assets)
}
const layersIn = (items: readonly Item[]): number =>
  items.reduce((sum, one) => sum + 1 + (one.kind === 'layer' ? layersIn(one.items) : 0), 0)

test('two clients, one there from the start and one that comes later, draw the same, updates and all', async () => {
  const scene = await sceneFor('speaker', 50)
  const offset = 60
  const told = new Told([item('Io', { cells: { name: 'Io Marrec', role: 'Pilot' } })])
  const one = new AirTitles({ sceneOf: () => scene, offset })
  told.do(100, { kind: 'take', item: 'Io' })
  const roles = ['Diver', 'Master of the tide mill', 'Xu', 'Oyster grower']
  for (let at = 100; at < 400; at++) {
    if (at % 7 === 0 && at > 150 && at < 300) told.do(at, { kind: 'update', cells: { role: roles[at % 4]! } })
    const seen = one.shown(told.channel, told.channel.air, at)
    const late = new AirTitles({ sceneOf: () => scene, offset })
    const channel = JSON.parse(JSON.stringify(told.channel)) as Channel
    if (at % 5 === 0) {
      const also = late.shown(channel, channel.air, at)
      expect(also.map(({ key }) => key)).toEqual(seen.map(({ key }) => key))
      expect(JSON.stringify(also[0]!.list)).toBe(JSON.stringify(seen[0]!.list))
    }
  }
  expect(layersIn(one.shown(told.channel, told.channel.air, 399)[0]!.list.items)).toBeGreaterThan(3)
  // In the middle of twenty changes a second, which no plate ever gets through, too.
  const bounds = (titles: AirTitles, channel: Channel, at: number) =>
    boundsOf(titles.shown(channel, channel.air, at)[0]!.list.items)!
  for (let i = 0; i < 700; i++) {
    const at = 400 + Math.floor(i * 2.5)
    told.do(at, { kind: 'update', cells: { role: roles[(i * 7) % 4]! } })
    const seen = bounds(one, told.channel, at)
    if (i % 50 !== 49) continue
    const late = new AirTitles({ sceneOf: () => scene, offset })
    const also = bounds(late, JSON.parse(JSON.stringify(told.channel)) as Channel, at)
    expect(also.width).toBeCloseTo(seen.width, 2)
  }
})

test('a crawl runs from the right, or from the left where its template says so, by the same step at every frame', async () => {
  const { template, assets } = await demoScene('notices')
  const at60 = templateFor({ rate: { num: 60, den: 1 } }, template)
  for (const runSpeed of [250, -250]) {
    const run = allParts(at60.parts).find(({ kind }) => kind === 'group')!
    const scene = new Scene(edit(at60, { kind: 'style', part: run.id, key: 'runSpeed', value: runSpeed }), assets)
    const cells = { notice: 'The causeway closes\nBoats every half hour' }
    const measured = measuredRun(scene, scene.layout({ notice: cells.notice.split('\n') }))!
    expect(measured.way.back).toBe(runSpeed < 0)
    const own: AirDesign = airDesign(scene, { template: 'notices', number: 1 })
    let channel: Channel = { ...emptyChannel({ ...frame, rate: { num: 60, den: 1 } }) }
    channel = carriedOut(channel, {
      n: 1,
      frame: 0,
      command: { kind: 'add', items: [item('c', { cells })], designs: { 1: own } },
    })
    channel = carriedOut(channel, { n: 2, frame: 0, command: { kind: 'take', item: 'c', run: measured } })
    const titles = new AirTitles({ sceneOf: () => scene, offset: 0 })
    /** Where the first item begins, px: the layers that only its run moves. */
    const placeAt = (at: number): number => {
      const found: number[] = []
      const visit = (items: readonly Item[]): void => {
        for (const one of items) {
          if (one.kind !== 'layer') continue
          if (one.clip) found.push(...one.items.map((inner) => (inner.kind === 'layer' ? inner.matrix[4] : Number.NaN)))
          else visit(one.items)
        }
      }
      visit(titles.shown(channel, channel.air, at)[0]!.list.items)
      return found[0]!
    }
    const begin = own.in + 60
    for (let at = begin; at < begin + 120; at++)
      expect(placeAt(at + 1) - placeAt(at)).toBeCloseTo(Math.sign(-runSpeed) * measured.way.step, 2)
  }
})
