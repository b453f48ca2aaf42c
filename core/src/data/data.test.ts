import { readFileSync } from 'node:fs'
import { readCsv } from '../formats/index.ts'
import { Scene } from '../scene/index.ts'
import type { Field } from '../template/index.ts'
import { axis, field, text } from '../testing/parts.ts'
import { assets, sceneOf, speaker } from '../testing/speaker.ts'
import { cellsOf, checkLayout, checkRow, matchColumns, readCell, refuseFieldValue, stateOf, valuesOf } from './index.ts'

/** A cell through its field: the value, or the sentence that refuses it. */
const through = (own: Partial<Field>, cell: string) => {
  const one = field(own)
  const value = readCell(speaker, one, cell)
  return refuseFieldValue(speaker, one, value)?.message ?? value
}

test('cells become values of their field, or a sentence', () => {
  expect(through({ type: 'number', min: 0, max: 9 }, ' 3,5 ')).toBe(3.5)
  expect(through({ type: 'number', max: 9 }, '12')).toContain('outside')
  expect(through({ type: 'number' }, 'many')).toContain('not a number')
  expect([through({ type: 'switch' }, 'Sí'), through({ type: 'switch' }, 'non')]).toEqual([true, false])
  expect(through({ type: 'switch' }, 'maybe')).toContain('neither yes nor no')
  expect(through({ type: 'colour' }, 'reddish')).toContain('#rrggbb')
  expect(through({ type: 'colour', free: true }, 'Red')).toBe('#ff0000')
  expect(through({ type: 'choice', options: [{ value: 'left', name: 'Left side', sets: [] }] }, 'right')).toContain(
    'none of left',
  )
})

test('only fields come through, and limits hold whatever the row says (invariant 4)', () => {
  const match = { name: 'name', role: 'role', mark: 'mark', plate: 'plate' }
  const { values, problems } = valuesOf(speaker, match, {
    cells: { name: 'x'.repeat(41), role: ' a  b ', mark: '', plate: '#ff0000' },
  })
  expect(Object.keys(values)).toEqual(['name', 'role'])
  expect(problems.map((p) => p.code)).toEqual(['limit', 'spaces'])
  expect(problems[1]!.fix).toBe('a b')
  const scene = new Scene(speaker, assets)
  const plain = JSON.stringify(scene.restFrame(scene.layout({ name: 'Io' })).items)
  expect(JSON.stringify(scene.restFrame(scene.layout({ name: 'Io', plate: '#ff0000', fill: '#ff0000' })).items)).toBe(
    plain,
  )
})

test('the demo sheet is as hard as it says: its rows are found out', () => {
  const table = readCsv(
    new Uint8Array(readFileSync(new URL('../../../demo/data/speakers.csv', import.meta.url))),
    'speakers.csv',
  )
  expect(table.rows).toHaveLength(40)
  const scene = new Scene(speaker, assets)
  const match = matchColumns(speaker, table.columns)
  const states = new Map(
    table.rows.map((_, i) => [i + 1, checkRow(scene, match, { cells: cellsOf(table, i) }, i + 1).findings]),
  )
  const codes = (row: number) => states.get(row)!.map((f) => `${f.level} ${f.code}`)
  expect(codes(10)).toEqual(['stop missing'])
  expect(codes(26)).toContain('stop empty')
  expect(codes(38)).toEqual(['stop picture', 'look bare'])
  expect(codes(39)).toContain('stop limit')
  expect(codes(21)).toEqual(['look spaces'])
  expect([...states.values()].map((f) => stateOf(f)).filter((s) => s === 'fine')).toHaveLength(26)
  expect(codes(22)).toEqual(['look quotes'])
  // Arabic letters reach deeper than the Latin ones that the gap was drawn for.
  expect(codes(5)).toEqual(['look collide'])
  // These too, past the end of the role, where they meet nothing.
  expect(codes(19)).toEqual([])
})

test('texts past their room, at the bound of a step, and outside title-safe', () => {
  const find = (style: object, more: object, x = axis([], { kind: 'content' as const }, { place: 200 })) => {
    const part = text('a', 'Maximiliana Theodora', x, { size: 90, ...style }, more)
    part.y = axis([], { kind: 'content' }, { place: 300 })
    const scene = sceneOf([part])
    return checkLayout(scene, scene.layout({}), scene.timing(scene.layout({}))).map((f) => `${f.level} ${f.code}`)
  }
  const width = { room: { kind: 'width', value: 500 } }
  expect(find({}, {})).toEqual([])
  expect(find({}, width)).toEqual(['stop overflow'])
  expect(
    find(
      {
        fit: [
          { step: 'condense', to: 0.95 },
          { step: 'shrink', to: 0.5 },
        ],
      },
      width,
    ),
  ).toEqual(['look fit.condense'])
  expect(find({ fit: [{ step: 'cut' }] }, width)).toEqual(['look cut'])
  expect(find({}, {}, axis([], { kind: 'content' }, { place: 1700 }))).toEqual(['stop safe.title'])
})

// BBC Subtitle Guidelines: 160 to 180 words a minute; 90 characters with spaces are about 15 words, a little over 5 s.
test('a title too short to read is looked at, with the frames it lacks', () => {
  const scene = new Scene(speaker, assets)
  const layout = scene.layout({ name: 'n'.repeat(40), role: 'r'.repeat(50) })
  const [finding] = checkLayout(scene, layout, scene.timing(scene.layout({})), 1).filter((f) => f.code === 'reading')
  expect(finding!.message).toMatch(/90 characters take about 5\.3 s .* hold 23 frames longer/)
  expect(
    checkLayout(scene, layout, scene.timing(scene.layout({}), 148), 1).filter((f) => f.code === 'reading'),
  ).toEqual([])
})
