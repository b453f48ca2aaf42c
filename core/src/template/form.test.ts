import fc from 'fast-check'
import { field } from '../testing/parts.ts'
import { templateOf } from '../testing/speaker.ts'
import { edit, type Field, formOf, placeField, stepField, type Template } from './index.ts'

const named = (id: string, section?: string) => field({ id, key: id, name: id, ...(section ? { section } : {}) })
const template = (fields: Field[]): Template =>
  templateOf([], {
    fields,
    sections: ['one', 'two'].map((id) => ({ id, name: id })),
    comments: [
      { id: 'c1', text: 'Before b', before: 'b' },
      { id: 'c2', text: 'At the end' },
    ],
  })
const base = template([named('a'), named('b', 'one'), named('c', 'two'), named('d', 'one')])
const lines = (t: Template) =>
  formOf(t).map((section) => [
    section.id,
    ...section.lines.map((l) => (l.kind === 'field' ? l.field.id : l.comment.id)),
  ])

test('a form shows what has no section first, then the sections in their order, comments between', () => {
  expect(lines(base)).toEqual([
    [undefined, 'a'],
    ['one', 'c1', 'b', 'd'],
    ['two', 'c', 'c2'],
  ])
})

test('a field goes before another one, or to the end of a section, and comments stay with their field', () => {
  expect(lines(edit(base, placeField(base, 'c', { before: 'b' })))).toEqual([
    [undefined, 'a'],
    ['one', 'c', 'c1', 'b', 'd'],
    ['two', 'c2'],
  ])
  expect(lines(edit(base, placeField(base, 'b', { section: undefined })))[0]).toEqual([undefined, 'a', 'c1', 'b'])
  expect(lines(edit(base, placeField(base, 'a', { section: 'two' })))[2]).toEqual(['two', 'c', 'a', 'c2'])
})

test('steps go from section to section, and there and back is where it was', () => {
  expect(stepField(base, 'a', -1)).toBeUndefined()
  expect(lines(edit(base, stepField(base, 'a', 1)!))[1]).toEqual(['one', 'a', 'c1', 'b', 'd'])
  const fields = fc
    .array(fc.constantFrom(undefined, 'one', 'two'), { minLength: 1, maxLength: 7 })
    .map((sections) => template([...sections.map((s, i) => named(`f${i}`, s)), named('b')]))
  const order = (t: Template) =>
    formOf(t).map((s) => s.lines.flatMap((line) => (line.kind === 'field' ? [line.field.id] : [])))
  fc.assert(
    fc.property(fields, fc.nat(), fc.constantFrom(1 as const, -1 as const), (t, n, by) => {
      const { id } = t.fields[n % t.fields.length]!
      const there = stepField(t, id, by)
      if (!there) return
      const after = edit(t, there)
      expect(order(after).flat().sort()).toEqual(order(t).flat().sort())
      expect(order(after)).not.toEqual(order(t))
      expect(order(edit(after, stepField(after, id, by === 1 ? -1 : 1)!))).toEqual(order(t))
    }),
  )
})
