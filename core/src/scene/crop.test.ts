import fc from 'fast-check'
import { boundsOf } from '../paint/index.ts'
import type { Values } from '../template/index.ts'
import { assets, speaker } from '../testing/speaker.ts'
import { readableCrop, Scene } from './index.ts'

const scene = new Scene(speaker, assets)
const fillings: Values[] = [
  {},
  { name: 'Io', role: '' },
  { name: 'Maximiliana Theodora von Hollenstein' },
  { name: 'ليلى' },
]

test('a proof shows all that its title touches, in the shape it is shown in, and nothing beside the frame', () => {
  fc.assert(
    fc.property(fc.constantFrom(...fillings), fc.double({ min: 16 / 9, max: 4, noNaN: true }), (values, aspect) => {
      const crop = readableCrop(scene, values, aspect)
      const touched = boundsOf(scene.settledFrame(scene.settle(values)).items)!
      expect(crop.width / crop.height).toBeCloseTo(aspect, 6)
      expect(crop.x).toBeGreaterThanOrEqual(0)
      expect(crop.y).toBeGreaterThanOrEqual(0)
      expect(crop.x + crop.width).toBeLessThanOrEqual(1920 + 1e-6)
      expect(crop.y + crop.height).toBeLessThanOrEqual(1080 + 1e-6)
      expect(crop.x).toBeLessThanOrEqual(Math.max(0, touched.x))
      expect(crop.x + crop.width).toBeGreaterThanOrEqual(Math.min(1920, touched.x + touched.width) - 1e-6)
    }),
  )
})

test('a short title is not blown up past what can be compared', () => {
  expect(readableCrop(scene, { name: 'Io', role: '' }, 2.6).width).toBeGreaterThanOrEqual(1920 * 0.45)
})
