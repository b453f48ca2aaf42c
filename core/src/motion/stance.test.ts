import fc from 'fast-check'
import { boxOf } from '../layout/index.ts'
import { Scene } from '../scene/index.ts'
import { edit, findPart, type Template } from '../template/index.ts'
import { assets, speaker } from '../testing/speaker.ts'
import { anchorBy, type Moment, scaledBy, stanceOf, standingAt, turnedBy, withOut } from './index.ts'

const id = 'plate'
const own = withOut(findPart(speaker, id)!.motion, speaker.spans, 'own')
const drawing = edit(speaker, { kind: 'motion', part: id, motion: { ...own, tracks: {} } })
const boxIn = (template: Template) => {
  const { rest } = new Scene(template, assets).layout({})
  return boxOf(rest, rest.order.index.get(id)!)
}
const box = boxIn(drawing)
const at = (template: Template, moment: Moment) => stanceOf(template, findPart(template, id)!, box, moment)
const rest: Moment = { span: 'hold', at: 0 }
const moments = fc.oneof(
  fc.record({ span: fc.constant('in' as const), at: fc.integer({ min: 0, max: 14 }) }),
  fc.record({ span: fc.constant('out' as const), at: fc.integer({ min: 0, max: 14 }) }),
)

test('what is turned or scaled by hand stands so at that moment, time after time, and rests as it did', () => {
  const degrees = fc.integer({ min: -170, max: 170 })
  const factor = fc.double({ min: 0.25, max: 3, noNaN: true })
  fc.assert(
    fc.property(moments, degrees, factor, degrees, (moment, turn, scale, more) => {
      const turned = edit(drawing, turnedBy(drawing, id, moment, turn))
      const scaled = edit(turned, scaledBy(turned, id, moment, scale))
      expect(at(scaled, moment).turn).toBeCloseTo(turn, 9)
      expect(at(scaled, moment).scale).toBeCloseTo(scale, 2)
      const again = edit(scaled, turnedBy(scaled, id, moment, more))
      expect(at(again, moment).turn).toBeCloseTo(turn + more, 9)
      expect(at(again, rest)).toEqual(at(drawing, rest))
    }),
  )
})

test('at rest the part itself is turned and scaled, and its movement is not', () => {
  const turned = edit(drawing, turnedBy(drawing, id, rest, 30))
  const scaled = edit(turned, scaledBy(turned, id, rest, 1.5))
  expect(findPart(scaled, id)!.style).toMatchObject({ rotation: 30, scale: 1.5 })
  expect(findPart(scaled, id)!.motion).toEqual(findPart(drawing, id)!.motion)
  // Back to what stands in no document.
  const back = edit(scaled, turnedBy(scaled, id, rest, -30))
  expect(findPart(back, id)!.style).not.toHaveProperty('rotation')
})

test('the anchor goes where it is dragged to, however the part stands there; at rest nothing moves', () => {
  const px = fc.integer({ min: -300, max: 300 })
  fc.assert(
    fc.property(
      px,
      px,
      fc.integer({ min: -90, max: 90 }),
      fc.double({ min: 0.5, max: 2, noNaN: true }),
      (dx, dy, turn, scale) => {
        const moment: Moment = { span: 'in', at: 4 }
        const turned = edit(drawing, turnedBy(drawing, id, moment, turn))
        const moving = edit(turned, scaledBy(turned, id, moment, scale))
        const stance = at(moving, moment)
        const moved = edit(moving, anchorBy(moving, id, box, stance, dx, dy))
        const { anchor } = findPart(moved, id)!.motion
        // Where the new anchor was in the part, before it was the anchor.
        const was = standingAt(
          findPart(moving, id)!,
          box,
          stance,
          box.x + box.width * anchor.x,
          box.y + box.height * anchor.y,
        )
        expect(was.x).toBeCloseTo(stance.anchor.x + dx, -0.5)
        expect(was.y).toBeCloseTo(stance.anchor.y + dy, -0.5)
        expect(boxIn(moved)).toEqual(box)
      },
    ),
    { numRuns: 40 },
  )
})

test('an Out that mirrors is not turned by hand: it says so, and what to do', () => {
  const mirrored = edit(drawing, { kind: 'motion', part: id, motion: { ...own, tracks: {}, out: 'mirror' } })
  expect(() => turnedBy(mirrored, id, { span: 'out', at: 3 }, 10)).toThrow(
    'mirrors its In; unlink it to set keys there',
  )
})
