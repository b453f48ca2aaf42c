import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { AirItem, Channel, Numbered } from '@hoja/core/air'
import type { AsRunLine } from '@hoja/core/api'
import { hearEvents } from '../testing/hearing.ts'
import { type Client, startServer, until } from '../testing/running.ts'

let hoja: Client
beforeAll(async () => {
  hoja = await startServer()
})
afterAll(() => hoja.end())

const versionOf = async (name: string) =>
  ((await hoja.get(`/templates/${name}`)).body as { versions: { id: number }[] }).versions[0]!.id
const detail = (answer: { status: number; body: never }) =>
  [answer.status, (answer.body as { detail?: string }).detail ?? ''] as const
const ask = (name: string, command: object) => hoja.send('POST', `/air/${name}/commands`, { command })
const stateOf = async (name: string) => ((await hoja.get(`/air/${name}`)).body as { state: Channel }).state
const itemOf = (id: string, version: number, more: Partial<AirItem> = {}): AirItem => ({
  id,
  version,
  layer: 'l1',
  cells: { name: id, role: 'Pilot' },
  live: {},
  ...more,
})
let made = 0
async function channelWith(items: (version: number) => AirItem[], template = 'speaker'): Promise<string> {
  const name = `test-${++made}`
  const frame = { width: 1920, height: 1080, rate: '50', layers: ['Titles', 'Crawl'] }
  expect((await hoja.send('POST', '/air', { name, title: `Test ${made}`, ...frame })).status).toBe(201)
  const added = await ask(name, { kind: 'add', items: items(await versionOf(template)) })
  expect(added).toMatchObject({ status: 200 })
  return name
}

interface News {
  kind: string
  numbered?: Numbered
  state?: Channel
  listener?: number
}
const hear = (name: string, last?: number) => hearEvents<News>(`${hoja.running.address}/api/air/${name}/events`, last)

test('a title is cued, taken, changed and taken out over HTTP, with what a macro pad can send', async () => {
  const name = await channelWith((version) => [itemOf('Io', version), itemOf('Maren', version)])
  expect((await hoja.send('POST', `/air/${name}/take`)).status).toBe(200)
  expect(await stateOf(name)).toMatchObject({ air: { next: 'Maren', layers: { l1: [{ item: 'Io' }] } } })
  expect((await hoja.send('POST', `/air/${name}/update`, { cells: { role: 'Diver' } })).status).toBe(200)
  await hoja.send('POST', `/air/${name}/cue`, { place: 1 })
  await hoja.send('POST', `/air/${name}/cue`, { step: 1 })
  expect((await stateOf(name)).air.next).toBe('Maren')
  expect(detail(await hoja.send('POST', `/air/${name}/cue`, { place: 9 }))).toEqual([
    404,
    'The running list has 2 titles; there is none there.',
  ])
  const out = await hoja.send('POST', `/air/${name}/out`, {})
  expect(out.body).toMatchObject({ n: expect.any(Number), frame: expect.any(Number) })
  const lines = (await hoja.get(`/air/${name}/as-run`)).body as AsRunLine[]
  expect(lines.map(({ what, words, by }) => [what, words, by])).toEqual([
    ['out', 'Io · Diver', 'hand'],
    ['changed', 'Io · Diver', 'hand'],
    ['up', 'Io · Pilot', 'hand'],
  ])
  const csv = await (await fetch(`${hoja.running.address}/api/air/${name}/as-run.csv`)).text()
  expect(csv).toMatch(/^at,layer,what,words,template,version,by\r?\n\S+Z,Titles,up,Io · Pilot,Speaker/)
  const channels = (await hoja.get('/air')).body as { name: string; layers: { phase: string }[] }[]
  expect(channels.find((one) => one.name === name)!.layers[1]!.phase).toBe('empty')
  expect((await hoja.send('POST', `/air/${name}/clear`)).status).toBe(200)
  expect((await hoja.send('DELETE', `/air/${name}`)).status).toBe(204)
  expect((await hoja.get(`/air/${name}`)).status).toBe(404)
})

test('a title that must not go out is asked for twice, what is locked is refused, and what changed since it was seen', async () => {
  const name = await channelWith((version) => [
    itemOf('empty', version, { cells: { name: '', role: 'Pilot' } }),
    itemOf('Io', version),
  ])
  const [status, sentence] = detail(await hoja.send('POST', `/air/${name}/take`))
  expect(status).toBe(409)
  expect(sentence).toMatch(/^This title must not go out: .*Take it again to take it all the same\.$/)
  expect((await stateOf(name)).air.layers).toEqual({})
  expect((await hoja.send('POST', `/air/${name}/take`, { anyway: true })).status).toBe(200)
  await hoja.send('POST', `/air/${name}/cut`, {})
  expect(detail(await ask(name, { kind: 'take', item: 'Io', seen: 1 }))[1]).toContain('changed a moment ago')

  const slate = await channelWith((version) => [itemOf('s', version, { cells: { programme: 'Night' } })], 'slate')
  await hoja.send('POST', `/air/${slate}/take`)
  // Every field of the slate may change; one that is not there may not.
  expect(detail(await hoja.send('POST', `/air/${slate}/update`, { cells: { colour: 'red' } }))).toEqual([
    409,
    '"colour" is locked while "Slate" is up; take it out, change it, and take it again.',
  ])
  expect(detail(await ask(name, { kind: 'launch' }))[0]).toBe(400)
  expect(detail(await hoja.send('POST', '/air/nobody/take'))).toEqual([404, 'There is no channel "nobody".'])
  expect(detail(await hoja.send('POST', '/air', { name: 'Bad Name' }))[0]).toBe(400)
})

test('events are as the HTML standard has them: a listener that comes back with Last-Event-ID misses nothing', async () => {
  const name = await channelWith((version) => [itemOf('Io', version)])
  const first = await hear(name)
  expect(first.type).toContain('text/event-stream')
  await until(
    async () => first.events,
    (events) => events.some(({ data }) => data.kind === 'pages'),
  )
  const { id } = first.events[0]!
  expect(first.events[0]!.data).toMatchObject({ kind: 'state', state: { n: Number(id) } })
  await hoja.send('POST', `/air/${name}/take`)
  await until(
    async () => first.events,
    (events) => events.some(({ data }) => data.numbered?.command.kind === 'take'),
  )
  first.end()
  const n = (await stateOf(name)).n
  await Promise.all(
    Array.from({ length: 20 }, (_, i) => hoja.send('POST', `/air/${name}/update`, { cells: { role: `r${i}` } })),
  )
  const again = await hear(name, n)
  await until(
    async () => again.events,
    (events) => events.filter(({ data }) => data.kind === 'command').length >= 20,
  )
  const numbers = again.events.filter(({ data }) => data.kind === 'command').map(({ id: own }) => Number(own))
  expect(numbers).toEqual(Array.from({ length: 20 }, (_, i) => n + 1 + i))
  again.end()
  // One that was away for longer than commands are kept, or comes from another server, is told the whole state.
  const lost = await hear(name, 1e6)
  await until(
    async () => lost.events,
    (events) => events.length > 0,
  )
  expect(lost.events[0]!.data.kind).toBe('state')
  lost.end()
})

test('fifty pages of one channel hear twenty updates a second, none lost, the last one last', async () => {
  const name = await channelWith((version) => [itemOf('Io', version)])
  await hoja.send('POST', `/air/${name}/take`)
  const pages = await Promise.all(Array.from({ length: 50 }, () => hear(name)))
  for (const { events } of pages) {
    const [first] = await until(
      async () => events,
      (all) => all.length > 0,
    )
    const { listener } = first!.data
    expect((await hoja.send('PUT', `/air/${name}/pages`, { listener, pages: 1 })).status).toBe(204)
  }
  await until(
    async () => hoja.get(`/air/${name}`),
    ({ body }) => (body as { pages: number }).pages === 50,
  )
  const begun = performance.now()
  for (let i = 0; i < 40; i++) {
    await hoja.send('POST', `/air/${name}/update`, { cells: { role: `role ${i}` } })
    const wait = begun + (i + 1) * 50 - performance.now()
    if (wait > 0) await new Promise((done) => setTimeout(done, wait))
  }
  const heardBy = ({ events }: (typeof pages)[number]) =>
    events.flatMap(({ data }) => (data.numbered?.command.kind === 'update' ? [data.numbered.command.cells.role] : []))
  await until(
    async () => pages,
    (all) => all.every((page) => heardBy(page).length === 40),
  )
  for (const page of pages) expect(heardBy(page)).toEqual(Array.from({ length: 40 }, (_, i) => `role ${i}`))
  for (const page of pages) page.end()
  await until(
    async () => hoja.get(`/air/${name}`),
    ({ body }) => (body as { pages: number }).pages === 0,
  )
})

test('a list goes on by itself when titles are held for a time, and one that must not go out waits for a hand', async () => {
  const name = await channelWith((version) => [
    itemOf('Io', version, { hold: 0.2 }),
    itemOf('Maren', version, { hold: 0.2 }),
    itemOf('none', version, { cells: { name: '', role: '' }, hold: 0.2 }),
  ])
  await ask(name, { kind: 'set', runs: 'by itself', over: 'out first' })
  await hoja.send('POST', `/air/${name}/take`)
  const state = await until(
    () => stateOf(name),
    ({ air }) => air.next === 'none',
    20,
  )
  expect(state.air.done).toEqual(['Io', 'Maren'])
  await until(
    () => hoja.get(`/air/${name}`),
    ({ body }) => (body as { layers: { phase: string }[] }).layers[0]!.phase === 'cued',
    20,
  )
  expect((await stateOf(name)).air.next).toBe('none')
  const lines = (await hoja.get(`/air/${name}/as-run`)).body as AsRunLine[]
  expect(lines.map(({ what, words, by }) => [what, words, by])).toEqual([
    ['out', 'Maren · Pilot', 'time'],
    ['up', 'Maren · Pilot', 'hand'],
    ['out', 'Io · Pilot', 'time'],
    ['up', 'Io · Pilot', 'hand'],
  ])
})

test('a crawl is measured for all: its items have their lengths, and a list that changes goes on where it was', async () => {
  const cells = { notice: 'The causeway closes at 17:40\nBoats every half hour', heading: 'Notices' }
  const name = await channelWith((version) => [itemOf('crawl', version, { cells, layer: 'l2' })], 'notices')
  await hoja.send('POST', `/air/${name}/take`)
  const run = (await stateOf(name)).air.layers.l2![0]!.run!
  expect(run.list.map(({ texts }) => texts.notice)).toEqual(cells.notice.split('\n'))
  expect(run.list.every(({ size }) => size > 300)).toBe(true)
  // 250 px a second at 50 frames, told to be steady.
  expect(run.step).toBe(5)
  await hoja.send('POST', `/air/${name}/update`, { cells: { notice: `${cells.notice}\nLow tide at 12:04` } })
  const changed = (await stateOf(name)).air.layers.l2![0]!.run!
  expect(changed.list).toHaveLength(3)
  expect(changed.placed[0]?.id).toBe(run.list[0]!.id)
  expect((await ask(name, { kind: 'first', text: 'The bridge is closed' })).status).toBe(200)
  expect((await ask(name, { kind: 'pause', paused: true })).status).toBe(200)
  expect((await stateOf(name)).air.layers.l2![0]!.run).toMatchObject({
    paused: true,
    first: [{ texts: { notice: 'The bridge is closed' } }],
  })
})

test('a live field follows its sheet, at most so often, the latest wins; what it does not take does not go; a dead one says so', async () => {
  const path = join(hoja.data, 'followed', 'gauge-air.json')
  const write = (height: unknown) => writeFileSync(path, JSON.stringify([{ station: 'Vado', height }]))
  write(3.1)
  const tide = await versionOf('tide')
  const link = { kind: 'file', root: 'followed', path: 'gauge-air.json', options: {} }
  const { id: sheet } = (await hoja.send('POST', '/links', { version: tide, name: 'Gauge', link })).body as {
    id: number
  }
  const live = {
    height: {
      kind: 'value',
      sheet,
      path: "$[?@.station=='Vado'].height",
      most: 5,
      dead: { after: 0.5, shows: 'last' },
    },
  } as const
  const name = await channelWith((version) => [itemOf('t', version, { cells: { station: 'Vado' }, live })], 'tide')
  const said = async () => {
    const [up] = (await stateOf(name)).air.layers.l1 ?? []
    return (up?.changes.at(-1)?.cells ?? up?.cells)?.height
  }
  const value = async () => Object.values((await stateOf(name)).values)[0]
  await until(value, (one) => one?.text === '3.1', 20)
  await hoja.send('POST', `/air/${name}/take`)
  expect(await said()).toBe('3.1')
  const { n } = await stateOf(name)
  for (let i = 0; i < 30; i++) {
    write(4 + i / 100)
    await new Promise((done) => setTimeout(done, 30))
  }
  await until(said, (height) => height === '4.29', 20)
  // About a second of changes: five a second, and one for the last.
  expect((await stateOf(name)).n - n).toBeLessThanOrEqual(9)
  await hoja.send('POST', `/air/${name}/update`, { cells: { height: '9.99' } })
  write(5)
  await until(value, (one) => one?.text === '5', 20)
  expect(await said()).toBe('9.99')
  await ask(name, { kind: 'release', field: 'height' })
  expect(await said()).toBe('5')
  write('broken cable')
  const lies = await until(value, (one) => one!.trouble !== '', 20)
  expect(lies).toMatchObject({ text: '5' })
  expect(await said()).toBe('5')
  await until(value, (one) => one!.dead, 20)
  write(6)
  await until(said, (height) => height === '6', 20)
  writeFileSync(path, '[{"station": "Va')
  await until(value, (one) => one!.dead && one!.trouble.includes('gauge-air.json'), 20)
  expect(await said()).toBe('6')
  await hoja.send('POST', `/air/${name}/clear`)
})
