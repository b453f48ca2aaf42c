import { emptyProgramme, withFootage, withMarker, withMedium, withTitles } from '@hoja/core/programme'
import fc from 'fast-check'
import { snapped, snapTargets } from './snapping.ts'
import { joined, rulerSteps } from './timescale.ts'

const rate = { num: 25, den: 1 }
const design = { template: 'speaker', name: 'Speaker', number: 1, in: 15, out: 15, frames: 125 }

function programme() {
  const bare = emptyProgramme('P', { width: 64, height: 36, rate }, { at: 0, drop: false })
  const { programme: marked } = withMarker({ ...bare, cuts: [777] }, 400, 'Here')
  const medium = withMedium(marked, { kind: 'shot', name: 'Shot', frames: 900, scene: 0 })
  const { programme: footed } = withFootage(medium.programme, medium.id, 50, 'f1')
  const titles = [100, 300].map((at) => ({ at, frames: 75, design: '1', words: { cells: {} } }))
  return withTitles(footed, titles, { track: 't1', designs: { 1: design } })
}

test('edges are drawn to clips, cuts, markers, the playhead and the beginning; never to what is moved', () => {
  const { programme: own, ids } = programme()
  expect(snapTargets(own, 60, new Set([ids[0]!]))).toEqual([0, 50, 60, 300, 375, 400, 777, 950])
  expect(snapTargets(own, 60, new Set(ids))).not.toContain(375)
})

test('of all edges the one that is nearest to something decides, within reach alone', () => {
  const targets = [0, 100, 200]
  expect(snapped(targets, [40, 90], 8, 5)).toEqual({ by: 10, to: 100 })
  expect(snapped(targets, [40, 90], 3, 5)).toEqual({ by: 3 })
  fc.assert(
    fc.property(
      fc.array(fc.nat(5000), { minLength: 1, maxLength: 30 }),
      fc.array(fc.nat(5000), { minLength: 1, maxLength: 4 }),
      fc.integer({ min: -500, max: 500 }),
      fc.integer({ min: 1, max: 20 }),
      (some, edges, by, reach) => {
        const sorted = [...new Set(some)].sort((a, b) => a - b)
        const found = snapped(sorted, edges, by, reach)
        const nearest = Math.min(...edges.flatMap((edge) => sorted.map((to) => Math.abs(edge + by - to))))
        expect(Math.abs(found.by - by)).toBe(nearest <= reach ? nearest : 0)
        if (found.to !== undefined) expect(edges.some((edge) => edge + found.by === found.to)).toBe(true)
      },
    ),
  )
})

test('a ruler has room for each of its timecodes, and whole ticks between two', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.002, max: 24, noNaN: true }), (px) => {
      const { label, tick } = rulerSteps(px, rate)
      expect(label * px >= 96 || label === 60 * 60 * 25).toBe(true)
      expect(label % tick).toBe(0)
      expect(tick === label || tick * px >= 7).toBe(true)
    }),
  )
})

test('what is too narrow to be told apart is drawn together, and nothing is left out or said twice', () => {
  const item = fc.tuple(fc.integer({ min: 1, max: 60 }), fc.integer({ min: 0, max: 60 }))
  fc.assert(
    fc.property(fc.array(item, { maxLength: 60 }), fc.integer({ min: 1, max: 30 }), (lengths, least) => {
      let at = 0
      const items = lengths.map(([length, gap]) => {
        at += gap + length
        return [at - length, at] as [number, number]
      })
      const stretches = joined(items, (one) => one, least)
      expect(stretches.flatMap((one) => one.items)).toEqual(items)
      for (const { from, to, items: own } of stretches) {
        expect([from, to]).toEqual([own[0]![0], Math.max(...own.map(([, end]) => end))])
        if (own.length > 1) for (const [begin, end] of own) expect(end - begin).toBeLessThan(least)
      }
    }),
  )
})
