import { flatLayers } from '@hoja/core/output'
import type { Matrix } from '@hoja/core/paint'
import { placesOf, Scene } from '@hoja/core/scene'
import { PNG } from 'pngjs'
import { openPackage } from '../packageFolder.ts'
import { demo } from '../testing/running.ts'
import { loadAssets } from './assets.ts'
import { flatDescription, flatPictures } from './flat.ts'
import { Raster } from './raster.ts'

const names = ['speaker', 'speaker-rtl', 'place', 'talk', 'tide', 'species']
const raster = new Raster()
/** Pictures are a quarter as wide: what is looked at is where things are, and what lies over what. */
const scale = 1 / 4

async function opened(name: string): Promise<Scene> {
  const { template, files } = await openPackage(`${demo}/templates/${name}`)
  return new Scene(template, await loadAssets(template, (entry) => files[entry.file]!))
}

/** Straight RGBA laid over what is there, both premultiplied in floating point (W3C Compositing 1, "source over"). */
function laidOver(under: Float64Array, rgba: Uint8Array): void {
  for (let i = 0; i < rgba.length; i += 4) {
    const alpha = rgba[i + 3]! / 255
    if (alpha === 0) continue
    for (let c = 0; c < 3; c++) under[i + c] = rgba[i + c]! * alpha + under[i + c]! * (1 - alpha)
    under[i + 3] = 255 * alpha + under[i + 3]! * (1 - alpha)
  }
}

test.each(names)('%s taken apart and laid together again is the title', async (name) => {
  const scene = await opened(name)
  const { width, height } = scene.template.frame
  const timing = scene.timing(scene.layout({}))
  const layout = scene.layout(scene.template.poster.values)
  const list = scene.posed(layout, timing, timing.in).drawList()
  const want = Uint8Array.from(raster.draw(list, { x: 0, y: 0, width, height }, scale))
  for (const merged of [true, false]) {
    const layers = flatPictures(scene, merged, scale, raster)
    const together = new Float64Array(want.length)
    for (const { png } of layers) laidOver(together, PNG.sync.read(Buffer.from(png)).data)
    let worst = 0
    for (let i = 0; i < want.length; i += 4) {
      const alpha = want[i + 3]! / 255
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(want[i + c]! * alpha - together[i + c]!))
      worst = Math.max(worst, Math.abs(want[i + 3]! - together[i + 3]!))
    }
    // Each layer is rounded to 8 bits by itself.
    expect([merged, worst <= layers.length + 1, worst]).toEqual([merged, true, worst])
  }
})

const corner = ([a, b, c, d, e, f]: Matrix, x: number, y: number) => [a * x + c * y + e, b * x + d * y + f] as const

/** px that ink may stand out of the box of its text: italics, accents, and what smoothing adds. */
const overshoot = 24

test.each(names)('%s: what is told of an editable part is where it is drawn, from frame to frame', async (name) => {
  const scene = await opened(name)
  const { template } = scene
  const timing = scene.timing(scene.layout({}))
  const layout = scene.layout(template.poster.values)
  const { width, height } = template.frame
  const across = Math.round(width * scale)
  let looked = 0
  for (const layer of flatLayers(template, true)) {
    if (layer.kind === 'clip') continue
    const told = placesOf(scene, layout, timing, layer.part)
    if (!told) continue
    const { box, places } = told
    for (const frame of [
      Math.floor(timing.in / 2),
      timing.in,
      timing.total - Math.ceil((timing.total - timing.out) / 2),
    ]) {
      const place = places.filter((one) => one.frame <= frame).at(-1)
      if (!place || place.opacity === 0) continue
      const list = scene.posed(layout, timing, frame).drawList(new Set([layer.part]))
      const rgba = raster.draw(list, { x: 0, y: 0, width, height }, scale)
      const corners = [
        corner(place.matrix, box.x, box.y),
        corner(place.matrix, box.x + box.width, box.y),
        corner(place.matrix, box.x, box.y + box.height),
        corner(place.matrix, box.x + box.width, box.y + box.height),
      ]
      const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)]
      const [left, right] = [Math.min(...xs) - overshoot, Math.max(...xs) + overshoot]
      const [top, bottom] = [Math.min(...ys) - overshoot, Math.max(...ys) + overshoot]
      for (let i = 3; i < rgba.length; i += 4) {
        if (rgba[i]! < 8) continue
        looked++
        const at = (i - 3) / 4
        const [x, y] = [(at % across) / scale, Math.floor(at / across) / scale]
        if (x < left || x > right || y < top || y > bottom)
          throw new Error(
            `${layer.name} at frame ${frame}: ${x}, ${y} is outside of ${left}, ${top}, ${right}, ${bottom}`,
          )
      }
    }
  }
  expect(looked).toBeGreaterThan(100)
})

test('the description names its files, its fields and its fonts, and counts frames as the clips do', async () => {
  const scene = await opened('speaker')
  const told = flatDescription(scene, true, 90, (parts) => `${parts.join('+')}.mov`) as {
    frames: number
    frame: object
    layers: { kind: string; file?: string; text?: { font: { family: string } }; places?: { frame: number }[] }[]
  }
  expect([told.frames, told.frame]).toEqual([90, { width: 1920, height: 1080, rate: '25' }])
  const clips = told.layers.filter(({ kind }) => kind === 'clip')
  expect(clips.every(({ file }) => file?.endsWith('.mov'))).toBe(true)
  const texts = told.layers.filter(({ text }) => text)
  expect(texts.length).toBeGreaterThan(0)
  for (const { text, places } of texts) {
    expect(text!.font.family).not.toBe('')
    const frames = places!.map(({ frame }) => frame)
    expect(frames).toEqual([...frames].sort((a, b) => a - b))
    expect(frames.at(-1)).toBeLessThan(90)
  }
})

// Whoever reads the description has no template: nothing in it may point into one.
test.each(names)(
  '%s: the description stands by itself: colours, fonts and fields are said, not pointed to',
  async (name) => {
    const scene = await opened(name)
    const { template } = scene
    const told = flatDescription(scene, true, undefined, () => 'clip.mov') as {
      palette: { name: string; colour: string }[]
      layers: {
        kind: string
        part?: string
        style?: Record<string, unknown>
        text?: { font: { sha256: string }; baseline: number; runs: { text: string; field?: string }[] }
        box?: { y: number; height: number }
      }[]
    }
    const words = JSON.stringify(told)
    expect(words).not.toContain('palette:')
    const own = new Set<string>(template.fields.map(({ key }) => key))
    for (const { id } of template.fields) if (!own.has(id)) expect(words).not.toContain(`"${id}"`)
    for (const { id } of template.fonts) expect(words).not.toContain(`"${id}"`)
    expect(told.palette).toEqual(template.palette.map(({ name: own, colour }) => ({ name: own, colour })))
    const keys = new Set(template.fields.map(({ key }) => key))
    for (const { kind, part, style, text, box } of told.layers) {
      if (kind !== 'editable') continue
      expect(style).toHaveProperty('opacity')
      if (part !== 'text') continue
      expect(style).toMatchObject({ colour: expect.stringMatching(/^#[0-9a-f]{6,8}$/i), size: expect.any(Number) })
      expect(template.fonts.map(({ sha256 }) => sha256)).toContain(text!.font.sha256)
      for (const { field } of text!.runs) if (field) expect(keys).toContain(field)
      // The first baseline stands in its box, unless the text is empty.
      if (box && box.height > 0) {
        expect(text!.baseline).toBeGreaterThan(box.y)
        expect(text!.baseline).toBeLessThanOrEqual(box.y + box.height + 1)
      }
    }
  },
)
