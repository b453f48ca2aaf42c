import { boxOf } from '@hoja/core/layout'
import { Scene } from '@hoja/core/scene'
import { allParts, edit, newPart, type Part, type Template } from '@hoja/core/template'
import fc from 'fast-check'
import { assets, speaker } from '../../../../core/src/testing/speaker.ts'
import { edgeLines, holdTo, holdWords, lineAt, nearestEdge } from './edgeLines.ts'
import { placedParts } from './placed.ts'

const boxAt = (id: string, x: number, y: number, width: number, height: number): Part =>
  ({
    ...newPart('box', id, id),
    x: { ties: [], size: { kind: 'fixed', value: width }, place: x },
    y: { ties: [], size: { kind: 'fixed', value: height }, place: y },
  }) as Part
const drawing = (parts: Part[]): Template => ({ ...speaker, parts, fields: [], proofs: [] })
const placedIn = (template: Template) => {
  const scene = new Scene(template, assets)
  return placedParts(template, scene, scene.layout({}))
}

test('what is dropped near a line holds to it with its nearest edge, and nothing moves', () => {
  const at = fc.integer({ min: 0, max: 1000 })
  const size = fc.integer({ min: 10, max: 400 })
  fc.assert(
    fc.property(at, at, size, size, at, at, (x, y, width, height, px, py) => {
      const template = drawing([boxAt('A', 300, 300, 400, 200), boxAt('B', x, y, width, height)])
      const placed = placedIn(template)
      const line = lineAt(edgeLines(template, placed, 'B', ['x', 'y']), px, py, 20)
      if (!line) return
      const own = nearestEdge(placed.find(({ part }) => part.id === 'B')!, line)
      const tied = edit(template, holdTo(template, placed, own, line))
      expect(allParts(tied.parts)[1]![line.axis].ties).toMatchObject([{ edge: own.edge, to: line.to, at: line.at }])
      const before = placed.map(({ box }) => box)
      const { rest } = new Scene(tied, assets).layout({})
      for (const [i, { part }] of placed.entries()) {
        const now = boxOf(rest, rest.order.index.get(part.id)!)
        for (const key of ['x', 'y', 'width', 'height'] as const)
          expect(Math.abs(now[key] - before[i]![key])).toBeLessThan(0.01)
      }
    }),
  )
})

test('lines are of other parts, the frame and its safe areas: neither of the part itself, its own parts, nor its group', () => {
  const group = {
    ...newPart('group', 'G', 'G'),
    parts: [boxAt('in', 0, 0, 50, 50), boxAt('too', 90, 0, 50, 50)],
  } as Part
  const template = drawing([group, boxAt('out', 400, 400, 50, 50)])
  const named = (id: string) =>
    new Set(
      edgeLines(template, placedIn(template), id, ['x']).map(({ to }) => ('region' in to ? to.region : to.parts[0])),
    )
  expect(named('in')).toEqual(new Set(['too', 'out', 'title', 'action', 'frame']))
  expect(named('G')).toEqual(new Set(['out', 'title', 'action', 'frame']))
})

test('a line is hit within its length, its ends included; beside it, it is not', () => {
  const template = drawing([boxAt('A', 300, 300, 400, 200), boxAt('B', 900, 900, 50, 50)])
  const placed = placedIn(template)
  const lines = edgeLines(template, placed, 'B', ['x', 'y'])
  expect(lineAt(lines, 500, 304, 8)).toMatchObject({ axis: 'y', to: { parts: ['A'] }, at: 'start' })
  expect(lineAt(lines, 697, 380, 8)).toMatchObject({ axis: 'x', to: { parts: ['A'] }, at: 'end' })
  expect(lineAt(lines, 800, 300, 8)).toBeUndefined()
  expect(lineAt(lines, 3, 700, 8)).toMatchObject({ axis: 'x', to: { region: 'frame' }, at: 'start' })
  const own = nearestEdge(placed.find(({ part }) => part.id === 'B')!, lineAt(lines, 500, 498, 8)!)
  expect(holdWords(template, placed, own, lineAt(lines, 500, 498, 8)!)).toBe(
    "B's top holds to the bottom of A, 400 px apart",
  )
})
