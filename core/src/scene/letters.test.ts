import { boundsOf, type Item } from '../paint/index.ts'
import type { Motion, Segments, SettleTrack } from '../template/index.ts'
import { axis, text } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'

const key = (at: number, value: number, ease: 'linear' | { steps: number; jump: 'start' } = 'linear') => ({
  span: 'in' as const,
  at,
  value,
  ease,
})
const still: Motion = { anchor: { x: 0.5, y: 0.5 }, tracks: {}, out: 'mirror' }
const byLetter = (tracks: Segments['tracks'], more: Partial<Segments> = {}): Motion => ({
  ...still,
  segments: { by: 'character', order: 'forward', seed: 5, overlap: 0.3, ...more, tracks },
})

function said(words: string, motion: Motion, style: object = {}) {
  const scene = sceneOf([text('a', words, axis([]), style, { motion })])
  const layout = scene.layout({})
  const timing = scene.timing(layout)
  return { scene, layout, timing, at: (frame: number) => scene.frame(layout, timing, frame).items }
}
const paths = (items: readonly Item[]): string[] =>
  items.flatMap((item) => (item.kind === 'layer' ? paths(item.items) : item.kind === 'path' ? [item.d] : []))

test('letters that scramble stand where they will stand, and settle one after another', () => {
  const settle: SettleTrack = { as: 'scramble', from: 'alphabet', keys: [key(0, 0), key(20, 1)] }
  const { at, timing } = said('ESTUARY', byLetter({ settle }))
  const end = paths(at(timing.in))
  expect(end.length).toBe(7)
  const settled = (frame: number) => paths(at(frame)).filter((d, i) => d === end[i]).length
  const counts = Array.from({ length: 21 }, (_, frame) => settled(frame))
  expect(counts[0]).toBeLessThan(3)
  expect(counts[20]).toBe(7)
  // In Hold and at rest nothing scrambles any more.
  expect(paths(at(timing.in + 5))).toEqual(end)
  // A letter stands in the middle of its own place: nothing is further out than half an em.
  const wide = boundsOf(at(timing.in))!
  for (let frame = 0; frame < 20; frame++) {
    const box = boundsOf(at(frame))!
    expect(box.x).toBeGreaterThan(wide.x - 24)
    expect(box.x + box.width).toBeLessThan(wide.x + wide.width + 24)
  }
  // The same frame is the same picture.
  expect(paths(said('ESTUARY', byLetter({ settle })).at(7))).toEqual(paths(at(7)))
})

test('a number that counts keeps every digit on its place, from end to end', () => {
  const count = { start: 0, keys: [key(0, 0), key(20, 1)] }
  const { layout, at, timing } = said('12,480 visitors', { ...still, tracks: { count } })
  const block = layout.blocks[0]!
  // Digits of one width: tabular figures are switched on.
  const digits = block.glyphs.filter(({ start }) => /\d/.test(block.text[start]!))
  expect(new Set(digits.map(({ advance }) => advance.toFixed(4))).size).toBe(1)
  for (const glyph of digits)
    for (const digit of '0123456789') {
      const [other] = block.instead(glyph, digit)!
      expect(other!.x).toBeCloseTo(glyph.x, 4)
      expect(other!.advance).toBeCloseTo(glyph.advance, 4)
    }
  const right = (frame: number) => {
    const box = boundsOf(at(frame))!
    return box.x + box.width
  }
  for (let frame = 0; frame <= 20; frame++) expect(right(frame)).toBeCloseTo(right(timing.in), 3)
})

test('a board squeezes a letter to its middle line as its flap falls', () => {
  const settle: SettleTrack = { as: 'board', from: 'digits', keys: [key(0, 0), key(40, 1)] }
  const { at, timing } = said('7', byLetter({ settle }))
  const heights = Array.from({ length: 40 }, (_, frame) => boundsOf(at(frame))?.height ?? 0)
  const full = boundsOf(at(timing.in))!.height
  expect(Math.min(...heights)).toBeLessThan(full * 0.5)
  expect(Math.max(...heights)).toBeLessThan(full * 1.2)
})

test('a caret stands behind the last letter that is typed, and is gone at rest', () => {
  const typed = { keys: [key(0, 0, { steps: 1, jump: 'start' }), key(20, 1)] }
  for (const words of ['Low tide', 'مد وجزر']) {
    const style = words === 'Low tide' ? {} : { font: 'arabic' }
    const bare = said(words, byLetter({ fade: typed }, { overlap: 0 }), style)
    const own = said(words, byLetter({ fade: typed }, { overlap: 0, caret: true }), style)
    for (const frame of [6, 10, 14]) {
      const [letters, all] = [boundsOf(bare.at(frame))!, boundsOf(own.at(frame))!]
      if (words === 'Low tide') {
        expect(all.x + all.width).toBeGreaterThan(letters.x + letters.width)
        expect(all.x).toBeCloseTo(letters.x, 6)
      } else expect(all.x).toBeLessThan(letters.x)
    }
    expect(paths(own.at(own.timing.in))).toEqual(paths(bare.at(bare.timing.in)))
  }
})

test('letters along a way, spread by tracking, scramble there', () => {
  const settle: SettleTrack = { as: 'scramble', from: 'own', keys: [key(0, 0), key(20, 1)] }
  const motion = { ...byLetter({ settle }), tracks: { track: { keys: [key(0, 200), key(20, 0)] } } }
  const { at } = said('estuary', motion)
  expect(paths(at(5)).length).toBe(7)
})
