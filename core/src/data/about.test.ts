import { outputFormats, rowInOrder, withNow } from '../output/index.ts'
import { type Field, readTemplate, type Template } from '../template/index.ts'
import { field, part } from '../testing/parts.ts'
import { sceneOf, templateOf } from '../testing/speaker.ts'
import { checkRow } from './checks.ts'
import { valuesOf } from './convert.ts'
import { isNow, localMoment, rowAbout, standsOf } from './index.ts'
import { SheetChecker } from './sheetChecker.ts'
import type { Row } from './table.ts'

const rate = { num: 25, den: 1 }
const frame = { width: 1920, height: 1080, rate, safe: { action: 0.035, title: 0.05 } }
const spans: Template['spans'] = { in: 10, out: 10, hold: { frames: 105, gives: 'freeze' } }

const fields: Field[] = [
  field({
    id: 'd',
    key: 'date',
    name: 'Date',
    type: 'moment',
    default: '2026-11-26',
    stands: 'now',
    pattern: 'EEEE d MMMM yyyy',
    language: 'es',
  }),
  field({
    id: 't',
    key: 'time',
    name: 'Time',
    type: 'moment',
    default: '2026-11-26T18:30',
    stands: 'now',
    pattern: 'HH:mm',
  }),
  field({
    id: 'l',
    key: 'length',
    name: 'Length',
    type: 'moment',
    default: '2000-01-01T00:00:30',
    stands: 'length',
    pattern: 'm:ss',
  }),
  field({ id: 's', key: 'seconds', name: 'Seconds', type: 'number', default: 1, stands: 'length' }),
  field({ id: 'r', key: 'row', name: 'Row', type: 'number', default: 1, stands: 'row' }),
  field({ id: 'n', key: 'rows', name: 'Rows', type: 'number', default: 1, stands: 'rows' }),
]
const texts = fields.map(({ id }) =>
  part(
    'text',
    id,
    { ties: [], size: { kind: 'content' }, place: 0 },
    { ties: [], size: { kind: 'content' }, place: 0 },
    { content: [{ field: id }] },
  ),
)
const template = { ...templateOf(texts, { fields, frame, spans }) }
const scene = sceneOf(texts, { fields, frame, spans })
const row: Row = { cells: {} }
const about = { now: '2026-11-28T09:05:00', row: 3, rows: 12 }

/** What the texts of a row say, by field. */
function said(own: Row, match = {}): Record<string, string> {
  const { values } = valuesOf(template, match, own)
  const layout = scene.layout(values)
  return Object.fromEntries(fields.map(({ key }, i) => [key, layout.blocks[i]!.text]))
}

test('what a row leaves empty is the moment, the length, its number and how many rows there are', () => {
  expect(said(rowAbout(template, row, about))).toEqual({
    date: 'sábado 28 noviembre 2026',
    time: '09:05',
    length: '0:05',
    seconds: '5',
    row: '3',
    rows: '12',
  })
  expect(said(rowAbout(template, row, { ...about, seconds: 3725 })).length).toBe('2:05')
  // Nobody is told of a sample that is none.
  expect(valuesOf(template, {}, rowAbout(template, row, about)).problems).toEqual([])
})

test('a row with a length of its own says that one, wherever it is looked at', () => {
  const match = { ':length': 'Duration' }
  const own = (cells: Row['cells'], frames?: number) =>
    said(rowAbout(template, frames === undefined ? { cells } : { cells, frames }, about), match)
  expect(own({ Duration: '12 s' })).toMatchObject({ length: '0:12', seconds: '12' })
  expect(own({}, 2 * 60 * 25).length).toBe('2:00')
  // An order that says a length says it of every row that has none.
  const ordered = rowInOrder({ frames: 3 * 25 }, template, match, { cells: { Duration: '12 s' } }, [1, 1])
  expect(said(ordered, match).length).toBe('0:12')
  // A length that nobody can read is told by its check, and leaves the designed one.
  expect(own({ Duration: 'soon' }).length).toBe('0:05')
})

test('data that says something comes first, and may say now itself', () => {
  const match = { time: 'At', row: 'No' }
  expect(said(rowAbout(template, { cells: { At: '2026-12-01T10:00', No: '7' } }, about), match)).toMatchObject({
    time: '10:00',
    row: '7',
  })
  for (const word of ['now', 'Now ', 'ahora', 'heute']) {
    expect(isNow(word)).toBe(true)
    expect(said(rowAbout(template, { cells: { At: word } }, about), match).time).toBe('09:05')
  }
})

test('where nobody knows what it is made among, the default shows what it looks like', () => {
  expect(said(row)).toEqual({
    date: 'jueves 26 noviembre 2026',
    time: '18:30',
    length: '0:30',
    seconds: '1',
    row: '1',
    rows: '1',
  })
  expect(said({ cells: { At: 'now' } }, { time: 'At' }).time).toBe('18:30')
})

test('a kind of field that cannot say it stands at its default', () => {
  const odd = field({ id: 'o', key: 'odd', type: 'text', default: 'as it is', stands: 'row' })
  expect(standsOf('text')).toEqual([])
  const { values } = valuesOf({ ...template, fields: [odd] }, {}, rowAbout({ fields: [odd] }, row, about))
  expect(values).toEqual({})
})

test('an order says its moment once, and a length that is ordered', () => {
  const settings = { format: 'png', frames: 250 } as const
  expect(outputFormats.png).toBeDefined()
  const stated = withNow({ ...settings, now: '2026-11-28T09:05' }, template)
  expect(stated.now).toBe('2026-11-28T09:05')
  expect(withNow(settings, template).now).toMatch(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d$/)
  expect(withNow(settings, templateOf([]))).toBe(settings)
  const made = rowInOrder(stated, template, {}, row, [2, 4])
  expect(said(made)).toMatchObject({ time: '09:05', length: '0:10', seconds: '10', row: '2', rows: '4' })
  expect(rowInOrder(stated, templateOf([]), {}, row, [2, 4])).toBe(row)
})

test('a sheet counts its rows as they come and go', () => {
  const checker = new SheetChecker({ scene, match: {} }, new Map(), undefined, '2026-11-28T09:05:00')
  checker.splice({ at: 1, remove: 0, rows: [row, row, row] })
  const counts = (n: number) => {
    const { values } = checker.check(n)
    return [values.row, values.rows]
  }
  expect([1, 2, 3].map(counts)).toEqual([
    [1, 3],
    [2, 3],
    [3, 3],
  ])
  checker.splice({ at: 1, remove: 1, rows: [] })
  expect([1, 2].map(counts)).toEqual([
    [1, 2],
    [2, 2],
  ])
})

test('the moment on the wall is written as ISO 8601 has it', () => {
  expect(localMoment(new Date(2026, 0, 3, 4, 5, 6))).toBe('2026-01-03T04:05:06')
})

test('a length that hangs on what the texts say is refused', () => {
  const list = field({ id: 'x', key: 'x', type: 'texts', default: ['a', 'b'] })
  const turned = {
    ...template,
    fields: [...fields, list],
    parts: [
      ...template.parts.slice(1),
      { ...template.parts[0]!, style: { content: [{ field: 'x' }], entries: 'in turn' } },
    ],
  }
  expect(() => readTemplate(turned)).toThrow('says how long the title is')
  const shared = structuredClone(turned) as unknown as { parts: { style: Record<string, unknown> }[] }
  shared.parts.at(-1)!.style.entryTime = 'its share of Hold'
  expect(() => readTemplate(shared)).not.toThrow()
})

test('a check fills a row as a render does', () => {
  const { values } = checkRow(scene, {}, rowAbout(template, row, about), 3)
  expect(values).toMatchObject({ time: '2026-11-28T09:05:00', row: 3, rows: 12 })
})
