import { boxOf } from '../layout/index.ts'
import { type Matrix, mapBounds } from '../paint/index.ts'
import type { Scene } from '../scene/index.ts'
import { edit, type Keyframe, type Motion, type Part, type Template, type Tracks } from '../template/index.ts'
import { axis, box, content, field, fixed, part, text, tie, to } from '../testing/parts.ts'
import { drawn } from '../testing/raster.ts'
import { sceneOf, templateOf } from '../testing/speaker.ts'
import { stagger } from './index.ts'

// Common practice, no source: what somebody who animates titles expects of movement that goes along with a text.

const frame = { width: 960, height: 540, rate: { num: 25, den: 1 }, safe: { action: 0.035, title: 0.05 } }
const spans: Template['spans'] = { in: 40, out: 40, hold: { frames: 20, gives: 'freeze' } }
const fields = [field({ default: 'Io' })]
const names = ['Io', 'Maren Oduya', 'Maximiliana Theodora von Hollenstein-Fotheringay']
const moor: Keyframe['ease'] = { bezier: [0.16, 1, 0.3, 1] }
const key = (at: number, value: number, ease: Keyframe['ease'] = moor): Keyframe => ({ span: 'in', at, value, ease })
const moves = (tracks: Tracks, more: Partial<Motion> = {}): Motion => ({
  anchor: { x: 0.5, y: 0.5 },
  tracks,
  out: 'mirror',
  ...more,
})
const named = (motion: Motion, style: object = {}): Part =>
  text(
    'name',
    '',
    axis([], content, { place: 200 }),
    { content: [{ field: 'f' }], size: 30, ...style },
    {
      y: axis([], content, { place: 250 }),
      motion,
    },
  )
const around = (id: string, what: string, by: number, motion: Motion): Part =>
  ({
    ...box(
      id,
      axis([tie('start', to(what), 'start', -by), tie('end', to(what), 'end', by)]),
      axis([tie('start', to(what), 'start', -by), tie('end', to(what), 'end', by)]),
    ),
    motion,
  }) as Part

/** A title at every one of its frames. */
function* frames(scene: Scene, values: { f: string }) {
  const layout = scene.layout(values)
  const timing = scene.timing(layout)
  for (let at = 0; at < timing.total; at++)
    yield { at, timing, layout, posed: scene.posed(layout, timing, at), list: scene.frame(layout, timing, at) }
}
const titled = (parts: Part[]) => sceneOf(parts, { frame, spans, fields })

test('a reveal of 12 frames that then turns by -30 degrees shows no pixel of its text before its first key', () => {
  const reveal = { from: 'left', soft: 0, slant: 0, keys: [key(6, 0), key(18, 1)] } as const
  const turned = named(
    moves({ reveal: { ...reveal, keys: [...reveal.keys] }, turn: { keys: [key(18, 0), key(30, -30)] } }),
  )
  for (const f of names)
    for (const { at, list } of frames(titled([turned]), { f })) {
      if (at > 8) break
      const pixel = drawn(list)
      let seen = 0
      for (let y = 200; y < 320; y += 2) for (let x = 0; x < frame.width; x += 2) if (pixel(x, y)[3]! > 0) seen++
      expect([f, at, at <= 6 ? seen : seen > 0]).toEqual([f, at, at <= 6 ? 0 : true])
    }
})

test('five parts that follow a text, 20 frames each and some apart, opaque by frame 5, line up once all have landed', () => {
  const apart = [0, 3, 6, 9, 12]
  const parts = apart.map((by, i): Part => {
    const motion = moves({
      shiftX: { unit: 'own', keys: [key(by, -1), key(by + 20, 0)] },
      fade: { keys: [key(by, 0, 'linear'), key(by + 5, 1, 'linear')] },
    })
    return {
      ...box(
        `bar${i}`,
        axis([tie('start', to('name'), 'start'), tie('end', to('name'), 'end', 8 * i)]),
        axis([], fixed(6), { place: 300 + 10 * i }),
      ),
      motion,
    } as Part
  })
  for (const f of names)
    for (const { at, posed, layout } of frames(titled([named(moves({})), ...parts]), { f })) {
      if (at < 5 || at > 40) continue
      const name = boxOf(layout.rest, layout.rest.order.index.get('name')!)
      apart.forEach((by, i) => {
        const { box: own, matrix, opacity } = posed.placeOf(`bar${i}`)!
        if (at >= by + 5) expect(opacity).toBe(1)
        const seen = mapBounds(matrix, own)
        // Exactly, once all have landed; the last of them is still under way the frame before.
        if (at >= 32) expect([seen.x, seen.x + seen.width]).toEqual([name.x, own.x + own.width])
        if (at >= 32) expect(seen.x + seen.width - 8 * i).toBeCloseTo(name.x + name.width, 6)
      })
      if (at === 31) expect(mapBounds(posed.placeOf('bar4')!.matrix, posed.placeOf('bar4')!.box).x).not.toBe(name.x)
    }
})

test('two plates, one round the other, ride a text that comes from outside the frame, grows and turns: as they stood, at every frame', () => {
  const flies = moves({
    shiftX: { unit: 'off', keys: [key(0, -1), key(30, 0)] },
    scale: { keys: [key(0, 0), key(30, 1)] },
    turn: { keys: [key(0, 120), key(30, 0)] },
  })
  const scene = titled([
    around('outer', 'inner', 14, moves({}, { ride: 'inner' })),
    around('inner', 'name', 20, moves({}, { ride: 'name' })),
    named(flies),
  ])
  const corner = ([a, b, c, d, e, f]: Matrix, x: number, y: number) => [a * x + c * y + e, b * x + d * y + f]
  for (const f of names) {
    let moved = 0
    for (const { at, posed } of frames(scene, { f })) {
      const [name, inner, outer] = ['name', 'inner', 'outer'].map((id) => posed.placeOf(id)!)
      if (Math.abs(name!.matrix[0] - 1) > 1e-9) moved++
      // Each corner is where the text's own movement takes it: its distance from the text is carried along with it.
      for (const { matrix, box: own } of [inner!, outer!])
        for (const [x, y] of [
          [own.x, own.y],
          [own.x + own.width, own.y + own.height],
        ] as const) {
          const [mine, carried] = [corner(matrix, x, y), corner(name!.matrix, x, y)]
          expect([f, at, Math.hypot(mine[0]! - carried[0]!, mine[1]! - carried[1]!) < 1e-6]).toEqual([f, at, true])
        }
      expect(name!.box.x - inner!.box.x).toBeCloseTo(20, 9)
      expect(inner!.box.x - outer!.box.x).toBeCloseTo(14, 9)
    }
    // In and Out both.
    expect(moved).toBeGreaterThan(55)
  }
})

test('a rule that travels down, stops, and comes back uncovers both texts', () => {
  // The upper text is uncovered as the rule goes down past it, the lower one as it comes back up.
  const rule = { ...box('rule', axis([], fixed(400), { place: 200 }), axis([], fixed(4), { place: 300 })) } as Part
  const travels: Part = {
    ...rule,
    motion: moves({
      shiftY: {
        unit: 'px',
        keys: [key(0, -60, 'linear'), key(10, 60, 'linear'), key(16, 60, 'linear'), key(26, 0, 'linear')],
      },
    }),
  }
  const line = (id: string, y: number, from: 'top' | 'bottom', start: number, end: number): Part => ({
    ...part('box', id, axis([], fixed(300), { place: 220 }), axis([], fixed(40), { place: y })),
    motion: moves({ reveal: { from, soft: 0, slant: 0, keys: [key(start, 0, 'linear'), key(end, 1, 'linear')] } }),
  })
  // Linear: 12 px a frame down from 240, 6 px a frame back from 360.
  const scene = titled([line('upper', 252, 'top', 1, 13 / 3), line('lower', 312, 'bottom', 64 / 3, 28), travels])
  let [first, second] = [0, 0]
  for (const { at, posed } of frames(scene, { f: 'Io' })) {
    if (at > 40) break
    const top = 300 + posed.placeOf('rule')!.matrix[5]
    const [one, other] = [posed.seenBox('upper'), posed.seenBox('lower')]
    if (at <= 10 && one) expect(one.y + one.height).toBeLessThanOrEqual(top + 1e-6)
    if (at >= 16 && at <= 26 && other) expect(other.y).toBeGreaterThanOrEqual(top + 4 - 1e-6)
    // What was uncovered stays so.
    expect(one?.height ?? 0).toBeGreaterThanOrEqual(first - 1e-9)
    expect(other?.height ?? 0).toBeGreaterThanOrEqual(second - 1e-9)
    ;[first, second] = [one?.height ?? 0, other?.height ?? 0]
  }
  expect([first, second]).toEqual([40, 40])
})

test('stripes of 40 px at 80, 60 and 40 % stay cut to their bar while they travel through it', () => {
  const bar = around('bar', 'name', 12, moves({}))
  const stripes = [0.8, 0.6, 0.4].map(
    (opacity, i): Part =>
      ({
        ...box(
          `stripe${i}`,
          axis([tie('start', to('bar'), 'start', 40 * i)], fixed(40)),
          axis([tie('start', to('bar'), 'start', -30), tie('end', to('bar'), 'end', 30)]),
          { fill: '#ff0000', opacity },
        ),
        matte: { part: 'bar', by: 'alpha', invert: false },
        motion: moves({ shiftX: { unit: 'px', keys: [key(0, -200, 'linear'), key(40, 900, 'linear')] } }),
      }) as Part,
  )
  const scene = titled([
    { ...bar, style: { fill: '#0000ff' } } as Part,
    ...stripes,
    { ...named(moves({})), style: { ...named(moves({})).style, opacity: 0 } } as Part,
  ])
  for (const f of names)
    for (const { at, list, layout } of frames(scene, { f })) {
      if (at > 40 || at % 5 > 0) continue
      const { x, y, width, height } = boxOf(layout.rest, layout.rest.order.index.get('bar')!)
      const pixel = drawn(list)
      let strays = 0
      for (let py = Math.floor(y) - 34; py < y + height + 34; py += 3)
        for (let px = 0; px < frame.width; px += 3) {
          const isIn = px >= Math.floor(x) && px <= x + width && py >= Math.floor(y) && py <= y + height
          if (!isIn && pixel(px, py)[3]! > 0) strays++
        }
      expect([f, at, strays]).toEqual([f, at, 0])
    }
})

test('moves of 4 frames that overlap by 2 begin 2 frames apart, and two at most are under way', () => {
  const one = (id: string, y: number): Part => ({
    ...box(id, axis([], fixed(100)), axis([], fixed(10), { place: y })),
    motion: moves({ shiftX: { unit: 'px', keys: [key(0, -80, 'linear'), key(4, 0, 'linear')] } }),
  })
  const parts = [0, 1, 2, 3, 4].map((i) => one(`p${i}`, 40 * i))
  const template = templateOf(parts, { frame, spans, fields })
  const apart = edit(
    template,
    stagger(
      template,
      parts.map(({ id }) => id),
      2,
    ),
  )
  const scene = sceneOf(apart.parts, { frame, spans, fields })
  for (const { at, posed } of frames(scene, { f: 'Io' })) {
    if (at > 14) break
    const shifts = parts.map(({ id }) => posed.placeOf(id)!.matrix[4])
    expect(shifts.filter((by) => by > -80 && by < 0).length).toBeLessThanOrEqual(2)
    for (const [i, by] of shifts.entries()) {
      expect(by === -80).toBe(at <= 2 * i)
      expect(by === 0).toBe(at >= 2 * i + 4)
    }
  }
})
