import fc from 'fast-check'
import { boxOf } from '../layout/index.ts'
import { Scene } from '../scene/index.ts'
import { edit, findPart, type Template } from '../template/index.ts'
import { assets, speaker } from '../testing/speaker.ts'
import { moveWayPoint, wayOf } from './index.ts'

const boxIn = (template: Template, id: string) => {
  const { rest } = new Scene(template, assets).layout({})
  return boxOf(rest, rest.order.index.get(id)!)
}
const shift = (unit: 'px' | 'own' | 'frame' | 'off', values: [at: number, value: number][]) => ({
  unit,
  keys: values.map(([at, value]) => ({ span: 'in' as const, at, value, ease: 'linear' as const })),
})
/** Plate on a way of its own. */
function shifted(unitX: 'px' | 'own' | 'frame' | 'off', unitY: 'px' | 'own' | 'frame' | 'off'): Template {
  const { motion } = findPart(speaker, 'plate')!
  const tracks = {
    shiftX: shift(unitX, [
      [0, -0.5],
      [10, 0],
    ]),
    shiftY: shift(unitY, [
      [0, 0.25],
      [6, 1],
      [10, 0],
    ]),
  }
  return edit(speaker, { kind: 'motion', part: 'plate', motion: { ...motion, tracks } })
}

test('the way is where the drawn part is, frame by frame', () => {
  const template = shifted('px', 'own')
  const part = findPart(template, 'plate')!
  const box = boxIn(template, 'plate')
  const way = wayOf(template, part, box, 'in')
  expect(way).toHaveLength(template.spans.in + 1)
  expect(way.filter((point) => point.keyed).map((point) => point.at)).toEqual([0, 6, 10])
  const still = { x: box.x + box.width * part.motion.anchor.x, y: box.y + box.height * part.motion.anchor.y }
  expect(way[10]).toMatchObject(still)
  expect(way[0]!.x).toBeCloseTo(still.x - 0.5, 9)
  expect(way[6]!.y).toBeCloseTo(still.y + box.height, 9)
  // An Out that mirrors has In's way; what nothing shifts has none.
  expect(wayOf(template, part, box, 'out')).toEqual([])
  expect(wayOf(speaker, findPart(speaker, 'words')!, box, 'in')).toEqual([])
})

test('a key that is dragged is where it was dragged to, in whatever unit it is kept; the other keys stay', () => {
  const unit = fc.constantFrom('px', 'own', 'frame', 'off' as const)
  fc.assert(
    fc.property(
      unit,
      unit,
      fc.constantFrom(0, 6, 10),
      fc.integer({ min: -300, max: 300 }),
      fc.integer({ min: -300, max: 300 }),
      (unitX, unitY, at, dx, dy) => {
        const template = shifted(unitX as 'px', unitY as 'px')
        const box = boxIn(template, 'plate')
        const way = wayOf(template, findPart(template, 'plate')!, box, 'in')
        const moved = edit(template, moveWayPoint(template, 'plate', box, 'in', at, dx, dy))
        const after = wayOf(moved, findPart(moved, 'plate')!, boxIn(moved, 'plate'), 'in')
        expect(Math.abs(after[at]!.x - way[at]!.x - dx)).toBeLessThan(0.2)
        expect(Math.abs(after[at]!.y - way[at]!.y - dy)).toBeLessThan(0.2)
        for (const other of [0, 6, 10].filter((one) => one !== at)) {
          // A channel that had no key here goes on as its neighbours say.
          if (other === 6 && dx !== 0) continue
          expect(after[other]!.x).toBeCloseTo(way[other]!.x, 6)
          expect(after[other]!.y).toBeCloseTo(way[other]!.y, 6)
        }
      },
    ),
    { numRuns: 60 },
  )
})

test('a way across is led down at one key: the others stay where they are', () => {
  const { motion } = findPart(speaker, 'plate')!
  const tracks = {
    shiftX: shift('px', [
      [0, -80],
      [10, 0],
    ]),
  }
  const template = edit(speaker, { kind: 'motion', part: 'plate', motion: { ...motion, tracks } })
  const box = boxIn(template, 'plate')
  const way = wayOf(template, findPart(template, 'plate')!, box, 'in')
  const moved = edit(template, moveWayPoint(template, 'plate', box, 'in', 0, 0, 40))
  const after = wayOf(moved, findPart(moved, 'plate')!, box, 'in')
  expect(after[0]).toMatchObject({ x: way[0]!.x, y: way[0]!.y + 40 })
  expect(after[10]).toMatchObject({ x: way[10]!.x, y: way[10]!.y })
})
