import fc from 'fast-check'
import { Scene } from '../scene/index.ts'
import type { Keyframe } from '../template/index.ts'
import { axis, box, field, part, text, tie, to } from '../testing/parts.ts'
import { resources } from '../testing/raster.ts'
import { assets, demoScene, sceneOf, speaker } from '../testing/speaker.ts'
import { checkRow, Looks, type Row, SheetChecker, stateOfRow } from './index.ts'

const scene = new Scene(speaker, assets)
const match = { name: 'name', role: 'role' }
const row = (name: string, role = '', more: Partial<Row> = {}): Row => ({ cells: { name, role }, ...more })

/** All that is found about rows that are checked for the first time. */
function afresh(rows: Row[]): string[] {
  const checker = new SheetChecker({ scene, match })
  checker.splice({ at: 1, remove: 0, rows })
  checker.compare()
  return rows.map((_, i) => JSON.stringify(checker.findings(i + 1)))
}

test('after any edits, what is found is what a fresh check finds, and every row that changed was named', () => {
  const names = ['Marisol Vega', 'Marisol Vegas', 'Io', 'IO', '海野', 'Marisol  Vega', '', 'Tamsin Rowe', 'Tamsin Rose']
  const someRow = fc.constantFrom(...names).map((name) => row(name))
  const edit = fc.record({ at: fc.nat(20), remove: fc.nat(2), rows: fc.array(someRow, { maxLength: 2 }) })
  fc.assert(
    fc.property(
      fc.array(someRow, { minLength: 6, maxLength: 12 }),
      fc.array(edit, { maxLength: 5 }),
      (start, edits) => {
        const checker = new SheetChecker({ scene, match })
        checker.splice({ at: 1, remove: 0, rows: start })
        checker.compare()
        let rows = [...start]
        let told = rows.map((_, i) => JSON.stringify(checker.findings(i + 1)))
        for (const { at, remove, rows: put } of edits) {
          const place = 1 + (at % (rows.length + 1))
          const taken = Math.min(remove, rows.length - place + 1)
          const touched = checker.splice({ at: place, remove: taken, rows: put })
          rows = [...rows.slice(0, place - 1), ...put, ...rows.slice(place - 1 + taken)]
          told.splice(place - 1, taken, ...put.map(() => ''))
          // Only what was named is asked for again; the numbers of rows behind are the screen's own business.
          for (const n of [...touched, ...checker.compare()]) told[n - 1] = JSON.stringify(checker.findings(n))
          if (put.length !== taken) told = rows.map((_, i) => JSON.stringify(checker.findings(i + 1)))
          expect(told).toEqual(afresh(rows))
        }
      },
    ),
    { numRuns: 60 },
  )
})

test('a row that stays on another version is checked as that version has it', () => {
  const strict = { ...speaker, fields: speaker.fields.map((one) => ({ ...one, limit: 3 })) }
  const checker = new SheetChecker(
    { scene, match },
    new Map([[7, { scene: new Scene(strict, assets), match: { name: 'name' } }]]),
  )
  checker.splice({ at: 1, remove: 0, rows: [row('Marisol'), row('Marisol', '', { version: 7 })] })
  expect([1, 2].map((n) => checker.findings(n).map(({ code }) => code))).toEqual([[], ['limit', 'default']])
})

test('a row with frames of its own is read in that time, and stopped when In and Out do not fit', () => {
  const codes = (frames: number) => checkRow(scene, match, row('Io Marrec', 'Tide-mill keeper', { frames }), 1).findings
  expect(codes(29)).toMatchObject([
    { level: 'stop', code: 'short', message: expect.stringContaining('give it 1 more') },
  ])
  expect(codes(31)).toMatchObject([{ code: 'reading' }])
  expect(codes(125)).toEqual([])
})

test('the designer weighs checks: higher, lower, not at all; limits always stop', () => {
  const weighed = (levels: typeof speaker.levels) =>
    checkRow(new Scene({ ...speaker, levels: levels! }, assets), match, row(`"${'o'.repeat(60)}"`), 1).findings.map(
      ({ code, level }) => `${code} ${level}`,
    )
  expect(weighed({})).toEqual(expect.arrayContaining(['limit stop', 'quotes look', 'fit.condense look']))
  const other = weighed({ quotes: 'stop', fit: 'off', overflow: 'look' })
  expect(other).toEqual(expect.arrayContaining(['limit stop', 'quotes stop']))
  expect(other.join()).not.toMatch(/fit|overflow stop/)
})

test('data for what is locked is told, with the part and its property', () => {
  const told = (cells: Row['cells']) =>
    checkRow(scene, match, { cells: { name: 'Io', role: '', ...cells } }, 1).findings.map(({ message }) => message)
  expect(told({ 'Plate fill': '#ff0000' })).toEqual([
    'Fill of Plate is locked, so "#ff0000" in column "Plate fill" is not used; take it out, or ask the designer to expose it.',
  ])
  expect(told({ 'plate.opacity': '0.2', 'Opacity of Edge': '' })).toHaveLength(1)
  // A column that is merely not used says nothing.
  expect(told({ Remark: 'late', Name: 'x' })).toEqual([])
})

describe('outside safe areas while moving', () => {
  const flying = (unit: 'px' | 'own' | 'off', value: number) =>
    text(
      't',
      'Io',
      axis([tie('start', { region: 'title' }, 'start', 60)]),
      {},
      {
        motion: {
          ...part('text', 'x', axis([]), axis([])).motion,
          tracks: {
            shiftX: {
              unit,
              keys: [
                { span: 'in', at: 0, value, ease: 'linear' },
                { span: 'in', at: 10, value: 0, ease: 'linear' },
              ],
            },
          },
        },
      },
    )
  const shown = (key: Keyframe): Keyframe => ({ ...key, value: 1 + key.value })
  const codes = (of: ReturnType<typeof flying>, words: string) => {
    of.y.ties = [tie('start', { region: 'title' }, 'start')]
    ;(of.style as { content: object[] }).content = [{ field: 'f' }]
    const own = sceneOf([of], { fields: [field({ default: 'Io' })] })
    return checkRow(own, { f: 'f' }, { cells: { f: words } }, 1)
      .findings.filter(({ code }) => code.startsWith('safe'))
      .map(({ message }) => message)
  }

  test('a text that comes in by its own width comes further out when it is longer', () => {
    expect(codes(flying('own', -1), 'Io')).toEqual([])
    expect(codes(flying('own', -1), 'Maximiliana Theodora')[0]).toMatch(
      /^t comes \d+ px outside title-safe at frame 0, further than as designed\.$/,
    )
  })

  test('what every row does alike is the design’s, and what leads out of the frame is meant', () => {
    expect(codes(flying('px', -200), 'Maximiliana Theodora')).toEqual([])
    expect(codes(flying('off', -1), 'Maximiliana Theodora')).toEqual([])
  })

  test('what a wipe hides on its way is nowhere', () => {
    const wiped = (from: 'left' | 'right') => {
      const own = flying('own', -1)
      const { shiftX } = own.motion.tracks
      return {
        ...own,
        motion: {
          ...own.motion,
          tracks: { shiftX, reveal: { from, soft: 0, slant: 0, keys: shiftX!.keys.map(shown) } },
        },
      } as typeof own
    }
    // It rises from behind its own edge: what is uncovered stands where it will rest.
    expect(codes(wiped('right'), 'Maximiliana Theodora')).toEqual([])
    expect(codes(wiped('left'), 'Maximiliana Theodora')[0]).toMatch(/^t comes \d+ px outside title-safe at frame [1-9]/)
  })

  test('a box that grows past action-safe while it stands inside it at rest: told of the row that makes it larger', () => {
    const name = text('t', 'Io', axis([tie('start', { region: 'title' }, 'start', 20)]), { content: [{ field: 'f' }] })
    name.y.ties = [tie('start', { region: 'action' }, 'start', 400)]
    const plate = box('b', axis([tie('start', to('t'), 'start', -10), tie('end', to('t'), 'end', 10)]))
    plate.y = axis([tie('start', to('t'), 'start'), tie('end', to('t'), 'end')])
    plate.motion = {
      ...plate.motion,
      tracks: { scale: { keys: [{ span: 'in', at: 3, value: 1.5, ease: 'linear' }] } },
    }
    const scene = sceneOf([plate, name], { fields: [field({ default: 'Io' })] })
    const said = (words: string) =>
      checkRow(scene, { f: 'f' }, { cells: { f: words } }, 1)
        .findings.filter(({ code }) => code === 'safe.action')
        .map(({ part, message }) => `${part}: ${message}`)
    // As designed it does so for every row: nothing is said of one.
    expect(said('Io')).toEqual([])
    expect(said('Maximiliana Theodora von Hollenstein')).toEqual([
      expect.stringMatching(/^b: b comes \d+ px outside action-safe at frame 0, further than as designed\.$/),
    ])
  })
})

test('a row is fine once its picture was looked at, or one like it was; until then it is checked', async () => {
  const scene = await demoScene('speaker')
  const rows = ['Io Marrec', 'Aoife Ní Loingsigh', 'Gwyneth Pugh', 'Zdzisław Szczęsny'].map((n) => ({
    cells: { n, r: 'Pilot', m: 'mill.png' },
  }))
  const checker = new SheetChecker(
    { scene, match: { name: 'n', role: 'r', mark: 'm' } },
    undefined,
    undefined,
    undefined,
    new Looks(resources),
  )
  checker.splice({ at: 1, remove: 0, rows })
  for (let n = 1; n <= 4; n++) checker.check(n)
  expect(rows.map((_, i) => stateOfRow(checker.found(i + 1)))).toEqual(['checked', 'checked', 'checked', 'checked'])
  checker.look(1)
  expect(stateOfRow(checker.found(1))).toBe('fine')
  expect(stateOfRow(checker.found(2))).toBe('checked')
  // What was seen well stands for what is like it, as soon as that is checked again; an edit is checked and looked at so.
  checker.splice({ at: 2, remove: 1, rows: [{ cells: { n: 'Tam Rowe', r: 'Pilot', m: 'mill.png' } }] })
  checker.check(2)
  expect(stateOfRow(checker.found(2))).toBe('fine')
  checker.lookAtAll()
  expect(rows.map((_, i) => checker.isLooked(i + 1))).toEqual([true, true, true, true])
  // Without time to look, all is checked and nothing said to be fine.
  const hasty = new SheetChecker({ scene, match: { name: 'n' } }, undefined, undefined, undefined, new Looks(resources))
  hasty.splice({ at: 1, remove: 0, rows })
  hasty.lookAtAll(() => true)
  expect(rows.map((_, i) => hasty.isLooked(i + 1))).toEqual([false, false, false, false])
  // Rows that come or go take with them what was seen of them.
  checker.splice({ at: 1, remove: 1, rows: [] })
  expect([checker.count, checker.isLooked(1), checker.isLooked(3)]).toEqual([3, true, true])
})
