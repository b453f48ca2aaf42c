import { boxOf } from '../layout/index.ts'
import type { Matte, Part } from '../template/index.ts'
import { axis, fixed, part } from '../testing/parts.ts'
import { drawn, drawnAsSvg } from '../testing/raster.ts'
import { demoScene, sceneOf } from '../testing/speaker.ts'
import { Scene } from './index.ts'

const frame = { width: 200, height: 200, rate: { num: 25, den: 1 }, safe: { action: 0, title: 0 } }
const at = (px: number, length: number) => axis([], fixed(length), { place: px })
const square = (id: string, x: number, y: number, side: number, style: object = {}, more: object = {}): Part =>
  part('box', id, at(x, side), at(y, side), { fill: '#ffffff', ...style }, more)
const cast = { shadows: [{ x: 60, y: 0, blur: 0, colour: '#ffffff' }] }
/** A green sheet over the whole frame, cut by `m`. */
const sheet = (matte: Partial<Matte> = {}): Part =>
  square('a', 0, 0, 200, { fill: '#00ff00' }, { matte: { part: 'm', by: 'alpha', invert: false, ...matte } })
const list = (parts: Part[], frameAt = 0) => {
  const scene = sceneOf(parts, { frame })
  return scene.frame(scene.layout({}), scene.timing(scene.layout({})), frameAt)
}
/** Opacity inside the matte's own shape (40 to 80), in its shadow (100 to 140), and beside both. */
const seen = (parts: Part[]) => {
  const pixel = drawn(list(parts))
  return [pixel(60, 60)[3], pixel(120, 60)[3], pixel(180, 180)[3]]
}

test('a matte cuts by its own shape, never by its shadows, unless asked', () => {
  for (const by of ['alpha', 'luminance'] as const) {
    const mask = square('m', 40, 40, 40, { ...cast, matteOnly: true })
    expect(seen([mask, sheet({ by })])).toEqual([255, 0, 0])
    expect(seen([mask, sheet({ by, shadows: true })])).toEqual([255, 255, 0])
    expect(seen([mask, sheet({ by, invert: true })])).toEqual([0, 255, 255])
    expect(seen([mask, sheet({ by, invert: true, shadows: true })])).toEqual([0, 0, 255])
  }
})

test('nor by its blur, and its stroke counts', () => {
  const stroked = square('m', 40, 40, 40, { strokeWidth: 20, stroke: '#ffffff', matteOnly: true })
  expect(drawn(list([stroked, sheet()]))(35, 60)[3]).toBe(255)
  const blurred = square('m', 40, 40, 40, { blur: 10, matteOnly: true })
  expect([drawn(list([blurred, sheet()]))(78, 60)[3], drawn(list([blurred, sheet()]))(84, 60)[3]]).toEqual([255, 0])
  const soft = drawn(list([blurred, sheet({ shadows: true })]))
  expect(soft(84, 60)[3]).toBeGreaterThan(40)
})

test('what a group holds cuts without its shadows too, and a picture in a fill casts nothing into a matte', () => {
  const inside = part(
    'group',
    'm',
    at(0, 200),
    at(0, 200),
    { matteOnly: true },
    { parts: [square('i', 40, 40, 40, cast)] },
  )
  expect(seen([inside, sheet()])).toEqual([255, 0, 0])
  const pictured = square('m', 40, 40, 40, {
    ...cast,
    matteOnly: true,
    fill: { kind: 'picture', picture: 'not-there.png', scaling: 'cover' },
  })
  expect(seen([pictured, sheet()])).toEqual([0, 0, 0])
})

test('a matte that is cut itself cuts by what is left of it', () => {
  const parts = [
    square('hole', 50, 50, 20, { matteOnly: true }),
    square('m', 40, 40, 40, { matteOnly: true }, { matte: { part: 'hole', by: 'alpha', invert: true } }),
    sheet(),
  ]
  const pixel = drawn(list(parts))
  expect([pixel(60, 60)[3], pixel(45, 45)[3]]).toEqual([0, 255])
})

test('a matte in a group moves and fades with that group, whatever group it cuts in', () => {
  const shift = (value: number) => ({
    motion: {
      anchor: { x: 0.5, y: 0.5 },
      out: 'mirror',
      tracks: { shiftX: { unit: 'px', keys: [{ span: 'in', at: 0, value, ease: 'linear' }] } },
    },
  })
  const held = part(
    'group',
    'g',
    at(0, 200),
    at(0, 200),
    { opacity: 0.5 },
    {
      ...shift(80),
      parts: [square('m', 40, 40, 40, { matteOnly: true })],
    },
  )
  const cut = part('group', 'h', at(0, 200), at(0, 200), {}, { ...shift(20), parts: [sheet()] })
  for (const parts of [
    [held, sheet()],
    [held, cut],
  ]) {
    const pixel = drawn(list(parts))
    expect([pixel(60, 60)[3], pixel(140, 60)[3]]).toEqual([0, 128])
  }
})

test('an SVG is cut as the canvas is: by alpha and luminance, inverted, without the shadow', async () => {
  for (const by of ['alpha', 'luminance'] as const)
    for (const invert of [false, true]) {
      const mask = square('m', 40, 40, 40, { ...cast, fill: '#808080', matteOnly: true })
      const drawing = list([mask, sheet({ by, invert })])
      const [canvas, svg] = [drawn(drawing), await drawnAsSvg(drawing)]
      for (const x of [60, 120, 180])
        expect([by, invert, x, Math.abs(svg(x, 60)[3]! - canvas(x, 60)[3]!) < 4]).toEqual([by, invert, x, true])
    }
})

test('in the demo nothing of a row’s picture shows outside its round mount, nor in the mount’s shadow', async () => {
  const { template, assets } = await demoScene('species')
  const red = {
    id: 'red',
    width: 2,
    height: 2,
    rgba: new Uint8ClampedArray(16).map((_, i) => (i % 4 === 0 || i % 4 === 3 ? 255 : 0)),
  }
  const scene = new Scene(template, { ...assets, picture: () => red })
  const layout = scene.layout({})
  const pixel = drawn(scene.restFrame(layout))
  const mount = boxOf(
    layout.rest,
    layout.rest.order.parts.findIndex(({ name }) => name === 'Mount'),
  )
  const [cx, cy, radius] = [mount.x + mount.width / 2, mount.y + mount.height / 2, mount.width / 2]
  expect(pixel(Math.round(cx), Math.round(cy)).slice(0, 3)).toEqual([255, 0, 0])
  let [shadow, outside] = [0, 0]
  // The left half: on the right the label begins.
  for (let x = Math.floor(cx - radius - 40); x < cx; x++)
    for (let y = Math.floor(cy - radius - 40); y < Math.min(1080, cy + radius + 50); y++) {
      if (Math.hypot(x + 0.5 - cx, y + 0.5 - cy) < radius + 1) continue
      const [r, g, b, alpha] = pixel(x, y)
      outside++
      if (alpha! > 0) shadow++
      expect([x, y, r! + g! + b! > 30 && r! > g! + 20]).toEqual([x, y, false])
    }
  expect(shadow).toBeGreaterThan(1000)
  expect(outside).toBeGreaterThan(shadow)
  // A ring of the mount goes all the way round.
  for (let angle = 0; angle < 360; angle += 5) {
    const [dx, dy] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
    const at = pixel(Math.round(cx + dx * (radius - 4)), Math.round(cy + dy * (radius - 4)))
    expect([angle, at[1]! > 200]).toEqual([angle, true])
  }
})
