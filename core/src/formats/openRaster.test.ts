import { strToU8, zipSync } from 'fflate'
import type { Pixels } from '../paint/index.ts'
import { Scene } from '../scene/index.ts'
import { drawn } from '../testing/raster.ts'
import { assets, templateOf } from '../testing/speaker.ts'
import { layersIn, openRasterParts, readOpenRaster, writePng } from './index.ts'

const flat = (width: number, height: number, [r, g, b, a]: readonly number[]): Pixels => {
  const rgba = new Uint8ClampedArray(width * height * 4)
  for (let i = 0; i < rgba.length; i += 4) rgba.set([r!, g!, b!, a!], i)
  return { id: `${width} ${r} ${g} ${b} ${a}`, width, height, rgba }
}
const pictures: Record<string, Pixels> = {
  'data/ground.png': flat(60, 40, [240, 200, 120, 255]),
  'data/shade.png': flat(30, 20, [0, 128, 255, 255]),
  'data/light.png': flat(20, 20, [255, 0, 0, 255]),
  'data/hidden.png': flat(60, 40, [0, 0, 0, 255]),
}
// As the specification's example has it: the topmost layer first, places from the canvas's left upper corner.
const stack = `<?xml version='1.0' encoding='UTF-8'?>
<image version="0.0.6" w="60" h="40" xres="72" yres="72">
 <stack>
  <layer name="Hidden" src="data/hidden.png" visibility="hidden"/>
  <stack name="Signs" opacity="0.5" isolation="isolate">
   <layer name="Light" src="data/light.png" x="35" y="5"/>
  </stack>
  <layer name="Shade" src="data/shade.png" x="5" y="10" composite-op="svg:multiply" opacity="0.8"/>
  <layer name="Ground" src="data/ground.png"/>
 </stack>
</image>`
const ora = (xml = stack, more: Record<string, Uint8Array> = {}, mime = 'image/openraster') =>
  zipSync({
    mimetype: [strToU8(mime), { level: 0 }],
    'stack.xml': strToU8(xml),
    ...Object.fromEntries(Object.entries(pictures).map(([path, pixels]) => [path, writePng(pixels)])),
    ...more,
  })

test('layers and stacks are read with their places, opacities, operators and visibility, the lowest first', () => {
  const read = readOpenRaster(ora(), 'quay.ora')
  expect([read.width, read.height, read.beyond]).toEqual([60, 40, []])
  expect(layersIn(read.nodes).map(({ name, x, y, width }) => [name, x, y, width])).toEqual([
    ['Ground', 0, 0, 60],
    ['Shade', 5, 10, 30],
    ['Light', 35, 5, 20],
    ['Hidden', 0, 0, 60],
  ])
  expect(readOpenRaster(ora(stack.replace('svg:multiply', 'svg:dst-in')), 'a').beyond).toEqual([
    'the operator svg:dst-in',
  ])
})

test('as parts it is drawn as the specification composes it (W3C Compositing and Blending Level 1)', () => {
  const read = readOpenRaster(ora(), 'quay.ora')
  const nameOf = new Map(layersIn(read.nodes).map((layer) => [layer, `${layer.name}.png`]))
  const part = openRasterParts(read, 'art', 'Quay', { x: 10, y: 20 }, (layer) => nameOf.get(layer)!)
  expect(part.parts!.map(({ name, kind }) => [name, kind])).toEqual([
    ['Ground', 'picture'],
    ['Shade', 'picture'],
    ['Signs', 'group'],
    ['Hidden', 'picture'],
  ])
  const byName = new Map(
    [...nameOf].map(([{ name }, file]) => [file, pictures[`data/${name.toLowerCase()}.png`]!] as const),
  )
  const scene = new Scene(templateOf([part]), { ...assets, picture: (name) => byName.get(name) })
  const at = drawn(scene.restFrame(scene.layout({})))
  const near = (got: number[], wanted: number[]) => {
    for (const [i, value] of got.entries()) expect(Math.abs(value - wanted[i]!)).toBeLessThan(2)
  }
  near(at(12, 22), [240, 200, 120, 255])
  // Multiplied, and so much of it: 0.8 (240 x 0, 200 x 128/255, 120 x 255/255) + 0.2 of the ground.
  near(at(20, 40), [48, 0.8 * ((200 * 128) / 255) + 40, 120, 255])
  near(at(10 + 52, 20 + 10), [0.5 * 255 + 120, 100, 60, 255])
  expect(at(5, 5)[3]).toBe(0)
})

test.each([
  ['no zip', strToU8('nothing'), 'is not an OpenRaster picture'],
  ['another kind of zip', ora(stack, {}, 'application/zip'), 'is not an OpenRaster picture'],
  ['no image', ora('<stack/>'), 'is not an OpenRaster picture'],
  [
    'a layer without its picture',
    ora(stack.replace('data/light.png', 'data/gone.png')),
    'has the layer "Light" without',
  ],
])('%s is refused in a sentence', (_, bytes, why) => {
  expect(() => readOpenRaster(bytes, 'bad.ora')).toThrow(why)
})

test('a picture without layers is refused', () => {
  const read = readOpenRaster(ora('<image w="9" h="9"><stack/></image>'), 'empty.ora')
  expect(() => openRasterParts(read, 'a', 'Empty', { x: 0, y: 0 }, () => '')).toThrow('has no layers')
})
