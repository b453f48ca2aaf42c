import fc from 'fast-check'
import type { Row, Splice } from '../data/index.ts'
import { newTemplate, type Template } from '../template/index.ts'
import { type DraftEdit, draftDocument } from './draftDocument.ts'
import { patched, patchesBetween } from './patches.ts'
import { type DocumentKind, type Remote, SaveFailed, Session, type SessionOptions } from './session.ts'
import { firstPart, inPlace, sheetDocument, withSplices } from './sheetDocument.ts'

/** How the server takes the next save. */
type Luck = 'well' | 'lost before' | 'lost after' | 'refused'

/** A server of one document that keeps revisions as the real one does, as well as the net lets it. */
class Server<State, Edit> implements Remote<State, Edit> {
  revision = 1
  luck: Luck = 'well'
  /** Every state that was ever saved. */
  readonly saved: State[]
  /** Saves wait until the test lets them go on. */
  private waiting: (() => void)[] = []
  held = false

  constructor(
    private readonly kind: DocumentKind<State, Edit>,
    public state: State,
  ) {
    this.saved = [state]
  }

  async load() {
    if (this.luck === 'lost before' || this.luck === 'lost after') throw new SaveFailed('away', 'no connection')
    return { state: this.state, revision: this.revision }
  }

  async save(revision: number, edits: readonly Edit[]): Promise<number> {
    if (this.held) await new Promise<void>((go) => this.waiting.push(go))
    const { luck } = this
    if (luck === 'lost before') throw new SaveFailed('away', 'no connection')
    if (luck === 'refused') throw new SaveFailed('refused', 'no')
    if (revision !== this.revision) throw new SaveFailed('stale', 'changed elsewhere')
    this.put(edits.reduce((now, edit) => this.kind.apply(now, edit).state, this.state))
    if (luck === 'lost after') throw new SaveFailed('away', 'no answer')
    return this.revision
  }

  put(state: State): void {
    this.state = state
    this.saved.push(state)
    this.revision++
  }

  letGo(): void {
    this.held = false
    for (const go of this.waiting.splice(0)) go()
  }
}

/** Time that passes when the test says so. */
function timers(): { options: SessionOptions; pass(): Promise<void> } {
  let due: (() => void)[] = []
  return {
    options: {
      pause: 500,
      depth: 200,
      later: (_ms, act) => {
        due.push(act)
        return () => {
          due = due.filter((one) => one !== act)
        }
      },
    },
    pass: async () => {
      for (const act of due.splice(0)) act()
      for (let i = 0; i < 40; i++) await Promise.resolve()
    },
  }
}

const row = (text: string): Row => ({ cells: { name: text } })
const textsOf = (rows: readonly Row[]) => rows.map(({ cells }) => cells.name)
const put = (at: number, ...texts: string[]): Splice => ({ at, remove: texts.length, rows: texts.map(row) })

function sheet(...texts: string[]) {
  const server = new Server<readonly Row[], Splice>(sheetDocument, texts.map(row))
  const { options, pass } = timers()
  const session = new Session(sheetDocument, server, { state: server.state, revision: 1 }, options)
  return { server, session, pass, seen: () => textsOf(session.get().state) }
}

test('a change in the making is one step from where it began, and nothing when it is called off', async () => {
  const { session, server, seen } = sheet('a', 'b')
  const drag = session.begin('drag')
  drag.set([put(1, 'x')])
  drag.set([put(2, 'y')])
  expect(seen()).toEqual(['a', 'y'])
  drag.end()
  expect(session.get().past).toEqual(['drag'])
  session.undo()
  expect(seen()).toEqual(['a', 'b'])
  const other = session.begin('other')
  other.set([put(1, 'z')])
  other.cancel()
  expect([seen(), session.get().past, session.get().future]).toEqual([['a', 'b'], [], ['drag']])
  session.redo()
  expect(await session.save()).toBe(true)
  expect(textsOf(server.state)).toEqual(['a', 'y'])
})

test('steps of one gesture join; undo and redo go by name', () => {
  const { session, seen } = sheet('a')
  for (const text of ['b', 'c', 'd']) session.edit([put(1, text)], 'typing', 'cell 1')
  session.edit([put(1, 'e')], 'other')
  expect(session.get().past).toEqual(['typing', 'other'])
  session.undo()
  session.undo()
  expect([seen(), session.get().future]).toEqual([['a'], ['typing', 'other']])
})

test('an answer that was lost is recognised: nothing is saved twice, and there is no conflict', async () => {
  const { session, server, pass } = sheet('a')
  server.luck = 'lost after'
  session.edit([{ at: 2, remove: 0, rows: [row('new')] }], 'a row')
  await pass()
  expect(session.get().status.kind).toBe('away')
  session.edit([{ at: 3, remove: 0, rows: [row('newer')] }], 'another')
  server.luck = 'well'
  await pass()
  await pass()
  expect(session.get().status.kind).toBe('saved')
  expect(textsOf(server.state)).toEqual(['a', 'new', 'newer'])
  expect(server.saved).toHaveLength(3)
})

test('a second writer is a choice; what is not taken comes back with undo', async () => {
  for (const keep of ['mine', 'theirs'] as const) {
    const { session, server, seen, pass } = sheet('a', 'b')
    server.put([row('a'), row('theirs')])
    session.edit([put(1, 'mine')], 'mine')
    await pass()
    expect(session.get().status.kind).toBe('conflict')
    expect(seen()).toEqual(['mine', 'b'])
    session.resolve(keep)
    await pass()
    expect([seen(), textsOf(server.state)]).toEqual(
      keep === 'mine'
        ? [
            ['mine', 'b'],
            ['mine', 'b'],
          ]
        : [
            ['a', 'theirs'],
            ['a', 'theirs'],
          ],
    )
    session.undo()
    expect(seen()).toEqual(keep === 'mine' ? ['a', 'b'] : ['mine', 'b'])
  }
})

test('what the followed data says goes below what a person did, and undo steps over it', async () => {
  const { session, server, seen, pass } = sheet('a', 'b')
  session.edit([{ at: 1, remove: 1, rows: [{ ...row('a'), note: 'look' }] }], 'a note')
  await pass()
  server.put(withSplices(server.state, [{ at: 1, remove: 1, rows: [{ ...row('fresh'), note: 'look' }] }]))
  await session.receive({
    from: 2,
    revision: 3,
    edits: [{ at: 1, remove: 1, rows: [{ ...row('fresh'), note: 'look' }] }],
  })
  expect(seen()).toEqual(['fresh', 'b'])
  session.undo()
  expect(session.get().state[0]).toEqual(row('fresh'))
  await pass()
  expect(server.state[0]).toEqual(row('fresh'))
})

test('data that came in while a save was on its way is taken in with its answer', async () => {
  for (const luck of ['well', 'lost before'] as const) {
    const { session, server, pass } = sheet('a', 'b')
    const told: [string | undefined, string | undefined][] = []
    session.onOthers((before, now) => told.push([before[0]!.cells.name, now[0]!.cells.name]))
    // A followed sheet takes what stands beside the cells on an older revision as well, and keeps its own cells.
    server.save = async (_revision, edits) => {
      const noted = edits.reduce((now, edit) => sheetDocument.apply(now, edit).state, server.state)
      server.put(noted.map((one, i) => ({ ...one, cells: server.state[i]!.cells })))
      return server.revision
    }
    session.edit([{ at: 1, remove: 1, rows: [{ ...row('a'), note: 'ask' }] }], 'a note')
    const fed = put(1, 'fed')
    server.put(withSplices(server.state, [fed]))
    server.luck = luck
    await pass()
    // The state as it is now could not be read: the save is made again.
    server.luck = 'well'
    await pass()
    await session.receive({ from: 1, revision: 2, edits: [fed] })
    expect(session.get().state).toEqual([{ ...row('fed'), note: 'ask' }, row('b')])
    expect([session.get().revision, session.get().status.kind]).toEqual([server.revision, 'saved'])
    expect(told).toEqual([['a', 'fed']])
    session.undo()
    await pass()
    expect([session.get().state[0], server.state[0]]).toEqual([row('fed'), row('fed')])
  }
})

test('a session goes on past a reload of the page: its steps, and what was not saved', async () => {
  const { session, server, pass } = sheet('a', 'b')
  session.edit([put(1, 'x')], 'first')
  await pass()
  server.luck = 'lost before'
  session.edit([put(2, 'y')], 'second')
  await pass()
  const kept = JSON.parse(JSON.stringify(session.keep(10_000)))
  server.luck = 'well'
  const { options, pass: passAgain } = timers()
  const again = new Session<readonly Row[], Splice>(sheetDocument, server, await server.load(), options, kept)
  expect(textsOf(again.get().state)).toEqual(['x', 'y'])
  await passAgain()
  expect(textsOf(server.state)).toEqual(['x', 'y'])
  again.undo()
  again.undo()
  expect(textsOf(again.get().state)).toEqual(['a', 'b'])
  // Somebody else was there meanwhile: theirs stands, and there is nothing of one's own to choose.
  server.put([row('theirs')])
  const late = new Session<readonly Row[], Splice>(sheetDocument, server, await server.load(), options, {
    revision: 1,
    history: kept.history,
  })
  expect([textsOf(late.get().state), late.get().past]).toEqual([['theirs'], []])
  const torn = new Session<readonly Row[], Splice>(sheetDocument, server, await server.load(), options, kept)
  expect([torn.get().status.kind, textsOf(torn.get().state)]).toEqual(['conflict', ['x', 'y']])
  expect(session.keep(0).history.past).toEqual([])
})

test('patches lead from one document to another, and are as small as the difference', () => {
  const json = fc.jsonValue({ maxDepth: 4 })
  fc.assert(
    fc.property(json, json, (one, other) => {
      expect(patched(one, patchesBetween(one, other))).toEqual(other)
    }),
  )
  const template = newTemplate('t', 'T')
  expect(patchesBetween(template, { ...template, name: 'U' })).toEqual([{ op: 'put', path: ['name'], value: 'U' }])
})

test('edits in parts do the same as the edits', () => {
  const splice = fc.record({
    at: fc.integer({ min: 1, max: 6 }),
    remove: fc.nat(4),
    rows: fc.array(fc.string({ maxLength: 2 }).map(row), { maxLength: 9 }),
  })
  fc.assert(
    fc.property(fc.array(splice, { maxLength: 5 }), fc.integer({ min: 1, max: 5 }), (splices, most) => {
      const rows = ['1', '2', '3', '4', '5'].map(row)
      const parts: Splice[] = []
      for (let left: Splice[] = splices; left.length > 0; ) {
        const next = firstPart(left, most)
        expect(next.part.reduce((n, one) => n + one.rows.length, 0)).toBeLessThanOrEqual(most)
        parts.push(...next.part)
        left = next.left
      }
      expect(textsOf(withSplices(rows, parts))).toEqual(textsOf(withSplices(rows, splices)))
    }),
  )
  expect(inPlace(new Map([3, 1, 2, 7].map((i) => [i, row(String(i))]))).map(({ at, remove }) => [at, remove])).toEqual([
    [2, 3],
    [8, 1],
  ])
})

type Act =
  | { do: 'edit'; at: number; text: string; remove: number; gesture: boolean }
  | { do: 'drag'; texts: string[]; cancel: boolean }
  | { do: 'undo' | 'redo' | 'pass' | 'other' | 'hold' | 'go' | 'reload' | 'feed' }
  | { do: 'luck'; luck: Luck }
  | { do: 'resolve'; keep: 'mine' | 'theirs' }

const act: fc.Arbitrary<Act> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.record({
      do: fc.constant('edit' as const),
      at: fc.nat(5),
      text: fc.string({ maxLength: 3 }),
      remove: fc.nat(2),
      gesture: fc.boolean(),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      do: fc.constant('drag' as const),
      texts: fc.array(fc.string({ maxLength: 2 }), { maxLength: 3 }),
      cancel: fc.boolean(),
    }),
  },
  {
    weight: 7,
    arbitrary: fc
      .constantFrom('undo', 'redo', 'pass', 'pass', 'other', 'hold', 'go', 'reload', 'feed')
      .map((what) => ({ do: what }) as Act),
  },
  {
    weight: 3,
    arbitrary: fc
      .constantFrom<Luck>('well', 'well', 'lost before', 'lost after', 'refused')
      .map((luck) => ({ do: 'luck', luck }) as Act),
  },
  {
    weight: 2,
    arbitrary: fc.constantFrom('mine' as const, 'theirs' as const).map((keep): Act => ({ do: 'resolve', keep })),
  },
)

test('any order of edits, undo, saves, failures, a second writer and reconnects ends with what was seen on the server', async () => {
  const counts = { conflicts: 0, lost: 0, feeds: 0 }
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 40 }), async (acts) => {
      const { session, server, pass, seen } = sheet('a', 'b', 'c')
      let others = 0
      /** What the person sees has only ever changed by what they did, or by what they were told of. */
      let expected = seen()
      for (const one of acts) {
        const was = session.get()
        switch (one.do) {
          case 'edit': {
            const at = Math.min(one.at, was.state.length) + 1
            const remove = Math.min(one.remove, was.state.length - at + 1)
            session.edit([{ at, remove, rows: [row(one.text)] }], 'edit', one.gesture ? 'g' : undefined)
            expected = [...expected.slice(0, at - 1), one.text, ...expected.slice(at - 1 + remove)]
            break
          }
          case 'drag': {
            const drag = session.begin('drag')
            for (const text of one.texts) if (was.state.length > 0) drag.set([put(1, text)])
            if (one.cancel) drag.cancel()
            else drag.end()
            const last = one.texts.at(-1)
            if (!one.cancel && last !== undefined && was.state.length > 0) expected = [last, ...expected.slice(1)]
            break
          }
          case 'undo':
          case 'redo':
            session[one.do]()
            expected = seen()
            break
          case 'luck':
            server.luck = one.luck
            if (one.luck === 'lost after') counts.lost++
            break
          case 'hold':
            server.held = true
            break
          case 'go':
            server.letGo()
            break
          case 'other':
            server.put([...server.state, row(`other ${++others}`)])
            break
          case 'feed': {
            // The data says something else in a row that is there; word of it comes at once.
            if (server.state.length === 0 || server.held) break
            const edits = [put(1, `fed ${++others}`)]
            const from = server.revision
            server.put(withSplices(server.state, edits))
            await session.receive({ from, revision: server.revision, edits }).catch(() => {})
            counts.feeds++
            expected = seen()
            break
          }
          case 'reload':
            await session.reload().catch(() => {})
            if (session.isSaved) expected = seen()
            break
          case 'resolve':
            session.resolve(one.keep)
            if (one.keep === 'theirs') expected = seen()
            break
          case 'pass':
            await pass()
            break
        }
        if (session.get().status.kind === 'conflict') counts.conflicts++
        // With nothing of one's own, what others saved is taken in as soon as it is known.
        else if (session.isSaved && session.get().revision !== was.revision) expected = seen()
        expect(seen()).toEqual(expected)
      }
      // The net comes back, and the person chooses their own where there is a choice.
      server.luck = 'well'
      server.letGo()
      for (let i = 0; i < 12; i++) {
        session.resolve('mine')
        await pass()
        await session.save()
        await session.reload()
      }
      expect(session.get().status.kind).toBe('saved')
      expect(textsOf(server.state)).toEqual(seen())
      expect(session.get().revision).toBe(server.revision)
      // Nothing was saved twice: every save changed something.
      server.saved.forEach((state, i) => {
        if (i > 0 && !textsOf(state).some((text) => text?.startsWith('other')))
          expect(server.saved[i - 1]).not.toBe(state)
      })
    }),
    { numRuns: 1500 },
  )
  expect(counts.conflicts).toBeGreaterThan(100)
  expect(counts.lost).toBeGreaterThan(100)
  expect(counts.feeds).toBeGreaterThan(100)
})

test('a draft goes by the same engine: its changes are edits, its history patches', async () => {
  const server = new Server<Template, DraftEdit>(draftDocument, newTemplate('t', 'T'))
  const { options, pass } = timers()
  const session = new Session(draftDocument, server, { state: server.state, revision: 1 }, options)
  session.edit([{ change: { kind: 'info', name: 'One' } }], 'naming it One')
  session.edit([{ change: { kind: 'tags', tags: ['a'] } }], 'tags')
  expect(() => session.edit([{ change: { kind: 'info', name: 'n'.repeat(300) } }], 'no')).toThrow('at most 200')
  expect(session.get().past).toEqual(['naming it One', 'tags'])
  const kept = JSON.parse(JSON.stringify(session.keep(10_000)))
  expect(JSON.stringify(kept.history).length).toBeLessThan(600)
  session.undo()
  session.undo()
  expect(session.get().state).toEqual(newTemplate('t', 'T'))
  session.redo()
  await pass()
  expect(server.state.name).toBe('One')
})
