import fc from 'fast-check'
import { axis, fixed, text } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'
import { roomUse } from './index.ts'

const at = { y: axis([], fixed(60), { place: 500 }) }
const shrinking = { fit: [{ step: 'shrink', to: 0.3 }] }
const use = (words: string, room: object | undefined, style: object = shrinking) => {
  const part = text('name', words, axis([]), { size: 60, ...style }, { ...at, ...(room ? { room } : {}) })
  return roomUse(sceneOf([part]).layout({}))
}

test('a text needs what it would take as designed, however far it was fitted, and has the room it was given', () => {
  const [free] = use('Maximiliana Theodora', undefined)
  expect(free!.room).toBeUndefined()
  fc.assert(
    fc.property(fc.integer({ min: 150, max: 900 }), (width) => {
      const [one] = use('Maximiliana Theodora', { kind: 'width', value: width })
      expect(one).toMatchObject({ part: 'name', room: width })
      expect(one!.needed).toBeCloseTo(free!.needed, 6)
    }),
    { numRuns: 20 },
  )
})

test('what crawls or is empty needs no room', () => {
  expect(use('', undefined)).toEqual([])
  expect(use('Boats run', undefined, { crawl: 100 })).toEqual([])
})

test('it fits as designed when, and only when, it needs no more than there is', () => {
  fc.assert(
    fc.property(fc.integer({ min: 200, max: 900 }), fc.integer({ min: 1, max: 40 }), (width, letters) => {
      const words = 'maren oduya castell vado estuary week puerto'.slice(0, letters).trim()
      const part = text(
        'name',
        words,
        axis([]),
        { size: 60, ...shrinking },
        { ...at, room: { kind: 'width', value: width } },
      )
      const layout = sceneOf([part]).layout({})
      const [one] = roomUse(layout)
      if (Math.abs(one!.needed - width) < 1) return
      expect(layout.blocks[0]!.fit.steps.length === 0).toBe(one!.needed < width)
    }),
    { numRuns: 40 },
  )
})
