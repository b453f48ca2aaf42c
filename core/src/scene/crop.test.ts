import fc from 'fast-check'
import { axis, fixed, part } from '../testing/parts.ts'
import { drawn } from '../testing/raster.ts'
import { assets, sceneOf, speaker } from '../testing/speaker.ts'
import { readableCrop, Scene, touchedBy } from './index.ts'

const scene = new Scene(speaker, assets)
test('a proof shows all that its title touches, in the shape it is shown in, and nothing beside the frame that it need not', () => {
  const box = fc.record({
    x: fc.integer({ min: 0, max: 1800 }),
    y: fc.integer({ min: 0, max: 1800 }),
    width: fc.integer({ min: 8, max: 1900 }),
    height: fc.integer({ min: 8, max: 1900 }),
  })
  const frames = [
    [1920, 1080],
    [1080, 1920],
    [1080, 1080],
    [3840, 600],
  ] as const
  fc.assert(
    fc.property(
      fc.constantFrom(...frames),
      box,
      fc.double({ min: 0.3, max: 5, noNaN: true }),
      ([width, height], at, aspect) => {
        const one = part(
          'box',
          'b',
          axis([], fixed(at.width), { place: at.x }),
          axis([], fixed(at.height), { place: at.y }),
        )
        const own = sceneOf([one], { frame: { ...speaker.frame, width, height } })
        const crop = readableCrop(own, {}, aspect)
        const touched = touchedBy(own, {})
        expect(crop.width / crop.height).toBeCloseTo(aspect, 6)
        // All of it is in sight.
        expect(crop.x).toBeLessThanOrEqual(touched.x + 1e-6)
        expect(crop.y).toBeLessThanOrEqual(touched.y + 1e-6)
        expect(crop.x + crop.width).toBeGreaterThanOrEqual(touched.x + touched.width - 1e-6)
        expect(crop.y + crop.height).toBeGreaterThanOrEqual(touched.y + touched.height - 1e-6)
        // Past the frame only along the axis on which the view is larger than it, and there on both sides alike.
        for (const [start, size, length] of [
          [crop.x, crop.width, width],
          [crop.y, crop.height, height],
        ] as const)
          if (size <= length) {
            expect(start).toBeGreaterThanOrEqual(0)
            expect(start + size).toBeLessThanOrEqual(length + 1e-6)
          } else expect(start).toBeCloseTo((length - size) / 2, 6)
        expect(crop.width <= width + 1e-6 || crop.height <= height + 1e-6).toBe(true)
      },
    ),
  )
})

test('what is beside the frame is no picture, though parts lead out of it', () => {
  const wide = part('box', 'b', axis([], fixed(900), { place: -300 }), axis([], fixed(400), { place: 0 }))
  const own = sceneOf([wide], { frame: { ...speaker.frame, width: 200, height: 400 } })
  const { x, y, width, height } = readableCrop(own, {}, 2)
  const list = own.restFrame(own.layout({}))
  const at = drawn({ ...list, width: 400, height: 200 }, { x, y, scale: 400 / width, frame: list })
  expect([width, height]).toEqual([800, 400])
  expect([at(40, 100)[3], at(140, 100)[3], at(200, 100)[3], at(260, 100)[3], at(360, 100)[3]]).toEqual([
    0, 0, 255, 0, 0,
  ])
})

test('a short title is not blown up past what can be compared', () => {
  expect(readableCrop(scene, { name: 'Io', role: '' }, 2.6).width).toBeGreaterThanOrEqual(1920 * 0.45)
})
