import { newTemplate, type Template } from '@hoja/core/template'
import type { Conflict } from './draft.ts'
import { useDraft } from './draft.ts'

/** A server of one template that keeps revisions as the real one does. */
class FakeServer {
  revision = 1
  template: Template = newTemplate('tide', 'Tide')
  saves: Template[] = []
  down = false

  async answer(path: string, init?: RequestInit): Promise<Response> {
    if (this.down) throw new TypeError('no connection')
    const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status })
    if (init?.method === 'PUT') {
      const { revision, template } = JSON.parse(String(init.body)) as { revision: number; template: Template }
      if (revision !== this.revision)
        return json(
          {
            code: 'draft.stale',
            detail: 'stale',
            current: { revision: this.revision, template: this.template } satisfies Conflict,
          },
          409,
        )
      this.template = template
      this.saves.push(template)
      this.revision++
      return json({ revision: this.revision, changed: '2026-11-25T10:00:00Z', ahead: true })
    }
    if (init?.method === 'POST' && path.endsWith('/versions'))
      return json({ id: 9, template: 'tide', number: 1, note: '', created: '2026-11-25T10:00:00Z' }, 201)
    return json({
      id: path.split('/').at(-1),
      name: 'Tide',
      revision: this.revision,
      changed: '2026-11-25T09:00:00Z',
      template: this.template,
      versions: [],
      ahead: true,
    })
  }
}

let server: FakeServer
const real = globalThis.fetch
const draft = () => useDraft.getState()
const name = (text: string) => draft().change({ kind: 'info', name: text }, `naming it ${text}`)

beforeEach(async () => {
  server = new FakeServer()
  globalThis.fetch = ((path: string, init?: RequestInit) => server.answer(path, init)) as typeof fetch
  // Another one lies open before each.
  await draft().open('other')
  await draft().open('tide')
})
afterEach(() => draft().saveNow())
// The process runs other files after this one.
afterAll(() => {
  globalThis.fetch = real
})

test('changes are undone and redone by name, and a new change forgets what was undone', () => {
  name('One')
  name('Two')
  expect(draft().past).toEqual(['naming it One', 'naming it Two'])
  draft().undo()
  expect(draft().template?.name).toBe('One')
  draft().undo()
  draft().undo()
  expect(draft().template?.name).toBe('Tide')
  draft().redo()
  expect(draft().template?.name).toBe('One')
  name('Three')
  expect(draft().future).toEqual([])
})

test('the steps of one drag are one step of undo', () => {
  for (const n of [1, 2, 3]) draft().change({ kind: 'info', name: `at ${n}` }, 'dragging', 'drag 1')
  draft().change({ kind: 'info', name: 'other' }, 'dragging', 'drag 2')
  expect(draft().past).toHaveLength(2)
  draft().undo()
  expect(draft().template?.name).toBe('at 3')
  draft().undo()
  expect(draft().template?.name).toBe('Tide')
})

test('saves go one after another, each on the revision that the one before it got', async () => {
  name('One')
  const first = draft().saveNow()
  name('Two')
  const second = draft().saveNow()
  expect(await Promise.all([first, second])).toEqual([true, true])
  expect(server.saves[server.saves.length - 1]?.name).toBe('Two')
  expect(draft()).toMatchObject({ dirty: false, revision: server.revision })
  expect(draft().saved).toMatch(/^saved /)
})

test('a refused change changes nothing', () => {
  const before = draft().template
  expect(draft().change({ kind: 'renamePart', part: 'nobody', name: 'x' }, 'renaming')).toBe(false)
  expect(draft().template).toBe(before)
  expect(draft().past).toEqual([])
})

test('when somebody else saved, nothing is overwritten until the person has chosen', async () => {
  name('Mine')
  server.template = { ...server.template, name: 'Theirs' }
  server.revision = 5
  expect(await draft().saveNow()).toBe(false)
  expect(draft().conflict?.template.name).toBe('Theirs')
  expect(server.template.name).toBe('Theirs')
  draft().resolve('mine')
  expect(await draft().saveNow()).toBe(true)
  expect(server.template.name).toBe('Mine')

  name('Mine again')
  server.template = { ...server.template, name: 'Theirs again' }
  server.revision = 20
  await draft().saveNow()
  draft().resolve('theirs')
  expect(draft().template?.name).toBe('Theirs again')
  draft().undo()
  expect(draft().template?.name).toBe('Mine again')
})

test('while the server is away the draft says so and keeps what it has; publishing waits for a save', async () => {
  name('Offline')
  server.down = true
  expect(await draft().saveNow()).toBe(false)
  expect(draft().saved).toContain('not saved: Hoja does not answer')
  expect(await draft().publish('x')).toBeUndefined()
  expect(draft().template?.name).toBe('Offline')
  server.down = false
  const version = await draft().publish('x')
  expect(version?.number).toBe(1)
  expect(server.template.name).toBe('Offline')
  expect(draft()).toMatchObject({ ahead: false, dirty: false })
})

test('opening again what is open keeps the work; opening another starts clean', async () => {
  name('Kept')
  await draft().open('tide')
  expect(draft().template?.name).toBe('Kept')
  await draft().saveNow()
  await draft().open('tide')
  expect(draft().past.length).toBeGreaterThan(0)
  await draft().open('other')
  await draft().open('tide')
  expect(draft().past).toEqual([])
})
