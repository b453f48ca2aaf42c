import { paint } from '@hoja/core/paint'
import { chromium } from '@playwright/test'
import { chromiumLaunch } from '../scripts/chromium.mjs'
import { movieOf, planTitle } from '../server/dist/render/plan.js'
import { Raster } from '../server/dist/render/raster.js'
import { frameSvg } from '../server/dist/render/still.js'
import { sideBySide, speakerScene } from './kit.mjs'

/** A PNG sequence of one 5 s title against screenshots of its frames, and against encoding every full frame. */
export async function benchTitle() {
  const scene = await speakerScene()
  const timing = scene.timing(scene.layout({}))
  const raster = new Raster()
  const size = scene.template.frame
  let row = 0
  const title = () => {
    // Another name each time: nothing is found again.
    const layout = scene.layout({ name: `Maren Oduya-Castellví ${row++}` })
    const plan = planTitle(scene, layout, timing)
    const { png } = movieOf(plan, raster, scene)
    const pictures = Array.from({ length: plan.pictures }, (_, index) => png(index))
    return plan.frames.map((index) => pictures[index]).length
  }

  const layout = scene.layout({})
  const sample = [2, 9, 14, 60]
  const browser = await chromium.launch(chromiumLaunch)
  const page = await browser.newPage({ viewport: { width: size.width, height: size.height } })
  const session = await page.context().newCDPSession(page)
  await session.send('Emulation.setDefaultBackgroundColorOverride', { color: { r: 0, g: 0, b: 0, a: 0 } })
  const svgs = sample.map((frame) => frameSvg(scene.frame(layout, timing, frame)).replace(/^<\?xml[^>]*>\n/, ''))
  await page.setContent('<body style="margin:0"></body>')
  const screenshot = async (round) => {
    await page.evaluate(
      (svg) => {
        document.body.innerHTML = svg
      },
      svgs[Math.abs(round) % svgs.length],
    )
    await session.send('Page.captureScreenshot', { format: 'png', optimizeForSpeed: false })
  }
  const full = raster.resources.surface(size.width, size.height)
  const encodeFull = (round) => {
    full.context.setTransform(1, 0, 0, 1, 0, 0)
    full.context.clearRect(0, 0, size.width, size.height)
    paint(scene.frame(layout, timing, sample[Math.abs(round) % sample.length]), full, raster.resources)
    full.canvas.toBuffer('image/png')
  }
  const times = await sideBySide({ title, screenshot, encodeFull }, 24, 3)
  await browser.close()
  const frames = timing.total
  const by = (which, how) => (times[which][how] * frames) / times.title[how]
  return {
    name: 'PNG sequence of one 5 s, 1920x1080, 25 fps title',
    figures: [
      `title: ${times.title.median.toFixed(0)} ms (least ${times.title.least.toFixed(0)})`,
      `a screenshot: ${times.screenshot.median.toFixed(0)} ms a frame (least ${times.screenshot.least.toFixed(0)})`,
      `a full frame drawn and encoded by the raster library: ${times.encodeFull.median.toFixed(0)} ms (least ${times.encodeFull.least.toFixed(0)})`,
    ],
    ratios: [
      {
        claim: 'faster than screenshots of the same frames',
        want: 60,
        median: by('screenshot', 'median'),
        least: by('screenshot', 'least'),
        atLeast: true,
      },
      {
        claim: "faster than the raster library's encoder on every full frame",
        want: 60,
        median: by('encodeFull', 'median'),
        least: by('encodeFull', 'least'),
        atLeast: true,
      },
    ],
  }
}
