import { inflateSync } from 'node:zlib'
import { restFrame } from '@hoja/core/motion'
import { Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import fc from 'fast-check'
import { PNG } from 'pngjs'
import { openPackage } from '../packageFolder.ts'
import { demo } from '../testing/running.ts'
import { loadAssets } from './assets.ts'
import { FramePng } from './pictures/png.ts'
import { movieOf, type Plan, planTitle } from './plan.ts'
import { Raster } from './raster.ts'
import { framePng, frameSvg } from './still.ts'
import { type Content, titleKey } from './title.ts'

const { template, files } = await openPackage(`${demo}/templates/speaker`)
const scene = new Scene(template, await loadAssets(template, (entry) => files[entry.file]!))
const raster = new Raster()

// pngjs reads back what we put together from pieces; its inflate checks the Adler-32, its parser every CRC.
test('a PNG made of reused pieces holds exactly the region, and nothing around it', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 60 }),
      fc.integer({ min: 1, max: 50 }),
      fc.nat(),
      fc.nat(),
      fc.nat(),
      fc.nat(),
      fc.nat(),
      (width, height, a, b, c, d, seed) => {
        const x = a % width
        const y = b % height
        const region = { x, y, width: 1 + (c % (width - x)), height: 1 + (d % (height - y)) }
        const rgba = Uint8ClampedArray.from(
          { length: region.width * region.height * 4 },
          (_, i) => ((i + seed) * 2654435761) >>> 24,
        )
        const read = PNG.sync.read(new FramePng(width, height, region).encode(rgba))
        expect([read.width, read.height]).toEqual([width, height])
        for (let py = 0; py < height; py++)
          for (let px = 0; px < width; px++) {
            const inside = px >= x && px < x + region.width && py >= y && py < y + region.height
            const at = ((py - y) * region.width + px - x) * 4
            expect([...read.data.subarray((py * width + px) * 4, (py * width + px) * 4 + 4)]).toEqual(
              inside ? [...rgba.subarray(at, at + 4)] : [0, 0, 0, 0],
            )
          }
      },
    ),
    { numRuns: 60 },
  )
})

test('the zlib stream is whole: it inflates in one piece to every row', () => {
  const bytes = new FramePng(40, 30, { x: 3, y: 20, width: 5, height: 4 }).encode(new Uint8ClampedArray(80).fill(200))
  const at = bytes.indexOf('IDAT')
  expect(inflateSync(bytes.subarray(at + 4, at + 4 + bytes.readUInt32BE(at - 4)))).toHaveLength(30 * 161)
})

test('the region alone is drawn to the same bytes as the whole frame, and holds all that is drawn', () => {
  const fillings: Values[] = [
    {},
    { name: 'Maximiliana Theodora von Hollenstein', mark: 'lamp.png' },
    { name: 'ليلى', role: '' },
  ]
  for (const values of fillings) {
    const layout = scene.layout(values)
    const plan = planTitle(scene, layout, scene.timing(scene.layout({})))
    const other = new Raster()
    for (const frame of [1, 5, 7, 9, 12, 15, 40, 118]) {
      const list = plan.list(plan.frames[frame]!)
      const whole = other.draw(list, { x: 0, y: 0, ...template.frame })
      const part = raster.draw(list, plan.region)
      const { x, y, width, height } = plan.region
      let sum = 0
      for (let row = 0; row < height; row++) {
        const line = whole.subarray(((y + row) * 1920 + x) * 4, ((y + row) * 1920 + x + width) * 4)
        expect(
          Buffer.compare(
            Buffer.from(part.buffer, part.byteOffset + row * width * 4, width * 4),
            Buffer.from(line.buffer, line.byteOffset, line.byteLength),
          ),
        ).toBe(0)
        for (const v of line) sum += v
      }
      expect(whole.reduce((s, v) => s + v, 0)).toBe(sum)
    }
  }
})

// Edges that lie on a tie of the raster's rounding fall to one side in the whole frame and to the other in a region.
test.each(['tide', 'species', 'place', 'talk', 'speaker-rtl'])(
  'a still of %s is the frame of its sequence',
  async (name) => {
    const opened = await openPackage(`${demo}/templates/${name}`)
    const own = new Scene(opened.template, await loadAssets(opened.template, (entry) => opened.files[entry.file]!))
    for (const { values } of [opened.template.poster, ...opened.template.proofs].slice(0, 3)) {
      const layout = own.layout(values)
      const timing = own.timing(own.layout({}))
      const plan = planTitle(own, layout, timing)
      const frame = restFrame(timing)
      const still = PNG.sync.read(framePng(own.posed(layout, timing, frame).drawList(), raster))
      const inSequence = PNG.sync.read(Buffer.from(movieOf(plan, raster, own).png(plan.frames[frame]!)))
      expect(still.data.equals(inSequence.data)).toBe(true)
    }
  },
)

test('a held frame and a mirrored Out are drawn once', () => {
  const plan = planTitle(scene, scene.layout({}), scene.timing(scene.layout({})))
  expect(plan.frames).toHaveLength(125)
  expect(plan.pictures).toBe(16)
  expect(new Set(plan.frames.slice(15, 110))).toEqual(new Set([15]))
  expect(plan.frames[124]).toBe(plan.frames[0])
})

test('same input, same bytes, in any raster and order (invariant 2)', () => {
  const layout = scene.layout({ name: 'Gwyneth Pugh' })
  const plan = planTitle(scene, layout, scene.timing(scene.layout({}), 60))
  const pictures = (one: Plan, on: Raster) => {
    const { png } = movieOf(one, on, scene)
    return Array.from({ length: one.pictures }, (_, i) => Buffer.from(png(i)))
  }
  const first = pictures(plan, new Raster())
  const again = pictures(planTitle(scene, layout, scene.timing(scene.layout({}), 60)), raster)
  expect(again.every((bytes, i) => bytes.equals(first[i]!))).toBe(true)
})

test('settled frames scale and are written as SVG too', () => {
  const list = scene.restFrame(scene.layout({}))
  const half = PNG.sync.read(framePng(list, raster, 0.5))
  expect([half.width, half.height]).toEqual([960, 540])
  expect(frameSvg(list)).toContain('data:image/png;base64,iVBOR')
})

test('a title is named by what it depends on, not by the order of its values nor by what its files are called', () => {
  const content: Content = {
    document: 'd',
    values: { a: '1', b: '2' },
    pictures: [],
    settings: { format: 'mov', pattern: 'x' },
    frames: undefined,
  }
  const key = titleKey(content)
  const other = (more: Partial<Content>) => titleKey({ ...content, ...more })
  const set = (more: Partial<Content['settings']>) => other({ settings: { ...content.settings, ...more } })
  expect(other({ values: { b: '2', a: '1' } })).toBe(key)
  expect(set({ pattern: 'other', rows: [1], folders: 'sheet', changedOnly: true })).toBe(key)
  // What the format does not take changes nothing either.
  expect(set({ backdrop: { kind: 'colour', colour: '#ffffff' }, alpha: 'straight' })).toBe(key)
  const changed = [
    other({ values: { a: '1', b: '3' } }),
    other({ document: 'e' }),
    other({ frames: 50 }),
    other({ only: ['p1'] }),
    set({ format: 'mkv' }),
    set({ alpha: 'premultiplied' }),
    set({ size: { width: 3840, height: 2160 } }),
    set({ rate: { num: 50, den: 1 } }),
    set({ handles: { before: 10, after: 0 } }),
    set({ timecode: '10:00:00:00' }),
    set({ silent: true }),
  ]
  expect(new Set([key, ...changed]).size).toBe(changed.length + 1)
})

test('a title that changes while it is up is the one text before, the other behind, and moves in between; too late is refused', () => {
  const [one, other] = [scene.layout({ name: 'Io' }), scene.layout({ name: 'Maximiliana Theodora' })]
  const timing = scene.timing(one)
  const change = { at: 40, values: other.values }
  const plan = planTitle(scene, one, timing, undefined, undefined, change)
  const [before, after] = [planTitle(scene, one, timing), planTitle(scene, other, timing)]
  const seen = (own: typeof plan, frame: number) => JSON.stringify(own.list(own.frames[frame]!))
  for (const frame of [0, 5, 20, 39]) expect(seen(plan, frame)).toBe(seen(before, frame))
  for (const frame of [55, 100, 112, timing.total - 1]) expect(seen(plan, frame)).toBe(seen(after, frame))
  const between = new Set(Array.from({ length: 12 }, (_, i) => plan.frames[40 + i]!))
  expect(between.size).toBe(12)
  expect(() => planTitle(scene, one, timing, undefined, undefined, { ...change, at: 108 })).toThrow(
    /^The change at frame 108 is under way until frame \d+, and Out begins at 110; make it earlier, or the title longer\.$/,
  )
})
