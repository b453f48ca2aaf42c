import { boundsOf, pixelRegion } from '@hoja/core/paint'
import { Scene } from '@hoja/core/scene'
import { planTitle } from '../server/dist/render/plan.js'
import { Raster } from '../server/dist/render/raster.js'
import { demoScene, sideBySide, speakerScene } from './kit.mjs'

/** So many names, with what they did, and a heading now and then. */
function credits(count) {
  const names = Array.from({ length: count }, (_, i) => (i % 12 === 0 ? '' : `Maren Oduya-Castellví ${i}`))
  return {
    name: names,
    role: names.map((name, i) => (name && i % 3 === 1 ? 'Boats and cables' : '')),
    heading: names.map((name, i) => (name ? '' : `On the water, ${i}`)),
  }
}

/** How far (px) the visible entries moved from one frame to the next, off from the least to the most. */
function unevenness(scene, values) {
  const layout = scene.layout(values)
  const timing = scene.timing(layout)
  const [strip] = scene.entries(layout).strips.values()
  const at = strip.of.way === 'crawl' ? 4 : 5
  const places = (frame) => {
    const all = (items) =>
      items.flatMap((item) =>
        item.kind !== 'layer'
          ? []
          : item.clip
            ? item.items.map(({ matrix, items: own }) => [own, matrix[at]])
            : all(item.items),
      )
    return new Map(all(scene.frame(layout, timing, frame).items))
  }
  let [least, most] = [Infinity, -Infinity]
  let before = places(timing.in + 400)
  for (let frame = 401; frame < 800; frame++) {
    const now = places(timing.in + frame)
    for (const [what, place] of now) {
      const was = before.get(what)
      if (was === undefined) continue
      least = Math.min(least, Math.abs(was - place))
      most = Math.max(most, Math.abs(was - place))
    }
    before = now
  }
  return most - least
}

/** A roll of 400 names against the raster drawing the same frames; its memory; proofs whose letters scramble. */
export async function benchRolling() {
  const scene = await demoScene('credits')
  const raster = new Raster()
  const values = credits(400)
  const layout = scene.layout(values)
  const timing = scene.timing(layout)
  const whole = { x: 0, y: 0, ...scene.template.frame }
  const [from, count] = [timing.in + 300, 120]
  // The same frames, made before the clock runs.
  const ready = Array.from({ length: count }, (_, i) => scene.frame(layout, timing, from + i))
  let n = 0
  const times = await sideBySide(
    {
      roll: () => {
        // Another filling each time: nothing is found again.
        const own = scene.layout({ ...values, name: [`Maren ${n++}`, ...values.name.slice(1)] })
        const time = scene.timing(own)
        for (let i = 0; i < count; i++) raster.draw(scene.frame(own, time, from + i), whole)
      },
      raster: () => {
        for (const list of ready) raster.draw(list, whole)
      },
    },
    5,
    1,
  )
  const held = (entries) => {
    const own = scene.layout(credits(entries))
    global.gc?.()
    const before = process.memoryUsage().heapUsed
    const plan = planTitle(scene, own, scene.timing(own))
    for (let picture = 0; picture < plan.pictures; picture++) plan.list(picture)
    global.gc?.()
    return { mb: (process.memoryUsage().heapUsed - before) / 1e6, frames: plan.frames.length }
  }
  held(100)
  const [short, long] = [held(400), held(1600)]
  const off = { roll: unevenness(scene, values) }
  const notices = await demoScene('notices')
  off.crawl = unevenness(notices, { notice: Array.from({ length: 80 }, (_, i) => `Notice ${i}: the causeway closes`) })

  const base = await speakerScene()
  const keys = [
    { span: 'in', at: 0, value: 0, ease: 'linear' },
    { span: 'in', at: 12, value: 1, ease: 'linear' },
  ]
  const segments = {
    ...{ by: 'character', order: 'forward', seed: 7, overlap: 0.4 },
    tracks: { settle: { as: 'scramble', from: 'alphabet', keys } },
  }
  const scrambled = (part) =>
    part.parts
      ? { ...part, parts: part.parts.map(scrambled) }
      : part.kind === 'text'
        ? { ...part, motion: { ...part.motion, tracks: {}, segments } }
        : part
  const letters = new Scene({ ...base.template, parts: base.template.parts.map(scrambled) }, base.assets)
  const fillings = Array.from({ length: 8 }, (_, i) => ({
    name: `Maren Oduya-Castellví ${i}`,
    role: 'Salt-marsh ecologist',
  }))
  const proof = { width: 208, height: 78 }
  const redraw = (of) => (round) => {
    for (const filling of fillings) {
      const own = of.layout(filling)
      const list = of.frame(own, of.timing(own), 3 + (Math.abs(round) % 9))
      const touched = pixelRegion(boundsOf(list.items), 1920, 1080)
      const scale = proof.width / Math.max(touched.width + 80, 864)
      const region = { x: touched.x - 40, y: touched.y - 40, width: proof.width / scale, height: proof.height / scale }
      raster.draw(list, region, scale)
    }
  }
  const proofs = await sideBySide({ scrambled: redraw(letters), plain: redraw(base) }, 60, 12)
  const ratio = (how) => times.roll[how] / times.raster[how]
  return {
    name: 'Rolls, crawls and letters that scramble',
    figures: [
      `a roll of 400 names, ${count} frames of 1920x1080: ${times.roll.median.toFixed(0)} ms (least ${times.roll.least.toFixed(0)})`,
      `the raster alone with the same frames: ${times.raster.median.toFixed(0)} ms (least ${times.raster.least.toFixed(0)})`,
      `a roll planned: ${short.frames} frames hold ${short.mb.toFixed(1)} MB, ${long.frames} frames hold ${long.mb.toFixed(1)} MB`,
      `a roll's and a crawl's step differs from frame to frame by at most ${off.roll.toExponential(1)} and ${off.crawl.toExponential(1)} px`,
      `eight proofs with letters that scramble: ${proofs.scrambled.median.toFixed(1)} ms (least ${proofs.scrambled.least.toFixed(1)}); without: ${proofs.plain.median.toFixed(1)} ms`,
    ],
    ratios: [
      { claim: 'the time of the raster alone', want: 1.25, median: ratio('median'), least: ratio('least') },
      {
        claim: 'frame of 16 ms for eight proofs that scramble',
        want: 1,
        median: proofs.scrambled.median / 16,
        least: proofs.scrambled.least / 16,
      },
      {
        claim: 'the memory of a roll a quarter as long',
        want: 1.25,
        median: long.mb / short.mb,
        least: long.mb / short.mb,
      },
      { claim: 'hundredths of a px between steps', want: 1, median: off.roll * 100, least: off.crawl * 100 },
    ],
  }
}
