import { rmSync } from 'node:fs'
import { type Channel, carriedOut, frameAt, layerPhase, type Numbered } from '@hoja/core/air'
import { hearEvents } from '../testing/hearing.ts'
import { seededFolder, until } from '../testing/running.ts'
import { type ServerProcess, startProcess } from '../testing/serverProcess.ts'

let data: string
let server: ServerProcess

beforeAll(async () => {
  data = await seededFolder()
  server = await startProcess(data)
})
afterAll(async () => {
  await server.kill()
  rmSync(data, { recursive: true, force: true })
})

const ask = (command: object) => server.post<Partial<Numbered>>('/air/lower-third/commands', { command })
const state = async () => (await server.get<{ state: Channel }>('/air/lower-third')).state
const phase = (channel: Channel) => layerPhase(channel, channel.air, 'l1', frameAt(channel, Date.now()))
const reach = async (wanted: string) => {
  for (const end = Date.now() + 10_000; Date.now() < end; ) {
    const channel = await state()
    if (phase(channel) === wanted) return
    await new Promise((done) => setTimeout(done, 5))
  }
  throw new Error(`never ${wanted}`)
}

/** What brings a channel into each of its states. */
const into: Record<string, () => Promise<unknown>> = {
  cued: () => ask({ kind: 'cue', item: 'demo1' }),
  'coming in': () => ask({ kind: 'take', item: 'demo1' }),
  async holding() {
    await ask({ kind: 'take', item: 'demo1' })
    await reach('holding')
  },
  async updating() {
    await ask({ kind: 'take', item: 'demo1' })
    await reach('holding')
    await ask({ kind: 'update', cells: { role: `Role ${Date.now()}` } })
  },
  async leaving() {
    await ask({ kind: 'take', item: 'demo1' })
    await reach('holding')
    await ask({ kind: 'out' })
  },
  async waiting() {
    await ask({ kind: 'take', item: 'demo1' })
    await reach('holding')
    await ask({ kind: 'set', over: 'out first' })
    await ask({ kind: 'take', item: 'demo2', anyway: true })
    await ask({ kind: 'set', over: 'goes over' })
  },
}

test('killed at once, in every state, twenty-four times: it comes back to what was on air, nothing that was answered is lost', async () => {
  const states = Object.keys(into)
  for (let i = 0; i < 24; i++) {
    const wanted = states[i % states.length]!
    await ask({ kind: 'clear' })
    await into[wanted]!()
    // Killed while more is asked: some of it is answered, and some is not.
    const answered: number[] = []
    const asking = Array.from({ length: 5 }, (_, n) =>
      ask({ kind: 'cue', item: `demo${(n % 3) + 1}` }).then(
        ({ n: number }) => number !== undefined && answered.push(number),
        () => undefined,
      ),
    )
    await Promise.race([...asking, new Promise((done) => setTimeout(done, i % 4))])
    const before = await state()
    await server.kill()
    await Promise.all(asking)
    server = await startProcess(data)
    const after = await state()
    const last = Math.max(before.n, ...answered)
    expect(after.n).toBeGreaterThanOrEqual(last)
    // What came after the last answer was kept and not answered any more: nothing but what was asked.
    expect(after.air.layers).toEqual(before.air.layers)
    expect(after.list).toEqual(before.list)
    expect(after.air.done).toEqual(before.air.done)
    if (wanted === 'holding') expect(phase(after)).toBe('holding')
    if (wanted === 'waiting') {
      // Both were in the channel when it was killed, and the one that waited comes by itself.
      expect(after.air.layers.l1!.map(({ item }) => item)).toEqual(['demo1', 'demo2'])
      await reach('holding')
      expect((await state()).air.layers.l1!.at(-1)!.item).toBe('demo2')
    }
  }
}, 240_000)

test('a client that carries the commands out by itself has the channel that the server has, after hundreds of them', async () => {
  await ask({ kind: 'clear' })
  const start = await state()
  for (let i = 0; i < 120; i++)
    await ask(
      i % 3 === 0
        ? { kind: 'take', item: `demo${(i % 5) + 1}`, anyway: true }
        : { kind: 'cue', item: `demo${(i % 7) + 1}` },
    )
  const { events, end } = await hearEvents<{ kind: string; numbered: Numbered }>(
    `${server.address}/api/air/lower-third/events`,
    start.n,
  )
  await until(
    async () => events,
    (all) => all.filter(({ data: { kind } }) => kind === 'command').length >= 120,
  )
  end()
  const own = events.reduce(
    (channel, { data: { kind, numbered } }) => (kind === 'command' ? carriedOut(channel, numbered) : channel),
    start,
  )
  const theirs = await state()
  expect(JSON.parse(JSON.stringify(own))).toEqual(theirs)
  // And one that starts from the database alone.
  await server.kill()
  server = await startProcess(data)
  expect(await state()).toEqual(theirs)
}, 120_000)
