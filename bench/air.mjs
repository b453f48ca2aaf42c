import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { AirTitles, carriedOut, emptyChannel } from '@hoja/core/air'
import { templateFor } from '@hoja/core/output'
import { Scene } from '@hoja/core/scene'
import { chromium } from '@playwright/test'
import { chromiumLaunch } from '../scripts/chromium.mjs'
import { demoScene, percentile, withServer } from './kit.mjs'

const channel = 'bench'
const seconds = Number(process.env.AIR_SECONDS ?? 20)
const updates = Number(process.env.AIR_UPDATES ?? 1000)

/** A channel of 60 frames a second with the speaker and a crawl on its list. */
async function prepare({ post, ask }) {
  await post('/air', {
    name: channel,
    title: 'Bench',
    width: 1920,
    height: 1080,
    rate: '60',
    layers: ['Titles', 'Crawl'],
  })
  const version = async (name) => (await ask(`/templates/${name}`)).versions[0].id
  const [speaker, notices] = [await version('speaker'), await version('notices')]
  const item = (id, of, layer, cells) => ({ id, version: of, layer, cells, live: {} })
  const items = [
    item('a', speaker, 'l1', { name: 'Io Marrec', role: 'Tide-mill keeper', mark: 'mill.png' }),
    item('b', speaker, 'l1', {
      name: 'Maren Oduya-Castellví',
      role: 'Salt-marsh ecologist, Vado Institute',
      mark: 'vado.png',
    }),
    item('crawl', notices, 'l2', { heading: 'Notices' }),
  ]
  await post(`/air/${channel}/commands`, { command: { kind: 'add', items } })
}

const open = async (browser, base) => {
  const page = await browser.newPage({ viewport: { width: 1920, height: 1080 } })
  await page.goto(`${base}/out/${channel}`)
  await page.locator('canvas').waitFor({ state: 'attached' })
  await page.waitForTimeout(2500)
  return page
}

/** From asking for a title to the first pixel that is another on the page's canvas, ms. */
async function takes(page, { post }) {
  const times = []
  for (let i = 0; i < 15; i++) {
    await post(`/air/${channel}/clear`, {})
    await page.waitForTimeout(300)
    const seen = page.evaluate(
      () =>
        new Promise((done) => {
          const canvas = document.querySelector('canvas')
          const context = canvas.getContext('2d')
          const observer = new MutationObserver(() => {
            const { data } = context.getImageData(0, 800, 1200, 280)
            if (!data.some((value) => value > 0)) return
            observer.disconnect()
            done(performance.timeOrigin + performance.now())
          })
          observer.observe(canvas, { attributeFilter: ['data-frame'] })
        }),
    )
    await page.waitForTimeout(50 + i * 7)
    const asked = performance.timeOrigin + performance.now()
    await post(`/air/${channel}/take`, { item: i % 2 ? 'a' : 'b' })
    times.push((await seen) - asked)
  }
  return times
}

/** How many of a display's frames come on time while something is done, and px drawn in each. */
async function shown(page, work) {
  await page.evaluate(() => {
    window.__times = []
    window.__drawn = []
    const canvas = document.querySelector('canvas')
    window.__observer = new MutationObserver(() => window.__drawn.push(Number(canvas.dataset.drawn)))
    window.__observer.observe(canvas, { attributeFilter: ['data-frame'] })
    window.__ticking = requestAnimationFrame(function tick(time) {
      window.__times.push(time)
      window.__ticking = requestAnimationFrame(tick)
    })
  })
  await work()
  const { times, drawn } = await page.evaluate(() => {
    cancelAnimationFrame(window.__ticking)
    window.__observer.disconnect()
    return { times: window.__times, drawn: window.__drawn }
  })
  const steps = times.slice(1).map((time, i) => time - times[i])
  // A frame that was left out is one that was not on time, however long the one before stood.
  const due = steps.reduce((sum, step) => sum + Math.max(1, Math.round(step / (1000 / 60))), 0)
  return {
    onTime: steps.length / due,
    late: percentile(steps, 0.99),
    drawn: percentile(drawn, 0.5),
    frames: drawn.length,
  }
}

/** MB of a page's heap once nothing is left to collect. */
async function heap(page, session) {
  await session.send('HeapProfiler.collectGarbage')
  await page.waitForTimeout(200)
  await session.send('HeapProfiler.collectGarbage')
  return (await session.send('Runtime.getHeapUsage')).usedSize / 1e6
}

setFlagsFromString('--expose_gc')
const collect = runInNewContext('gc')

/** An hour of a crawl at 60 frames a second, every frame composed, in as long as that takes. */
async function hourOfCrawl() {
  const { template, assets } = await demoScene('notices')
  const scene = new Scene(templateFor({ rate: { num: 60, den: 1 } }, template), assets)
  const { airDesign, measuredRun } = await import('@hoja/core/air')
  const design = airDesign(scene, { template: 'notices', number: 1 })
  const item = { id: 'c', version: 1, layer: 'l', cells: {}, live: {} }
  let state = emptyChannel({
    width: 1920,
    height: 1080,
    rate: { num: 60, den: 1 },
    layers: [{ id: 'l', name: 'Crawl' }],
  })
  const run = measuredRun(scene, scene.layout({}))
  state = carriedOut(state, { n: 1, frame: 0, command: { kind: 'add', items: [item], designs: { 1: design } } })
  state = carriedOut(state, { n: 2, frame: 0, command: { kind: 'take', item: 'c', run } })
  const titles = new AirTitles({ sceneOf: () => scene, offset: 0 })
  const held = []
  const begun = performance.now()
  for (let frame = 0; frame <= 216_000; frame++) {
    titles.shown(state, state.air, frame)
    if (frame === 21_600 || frame === 216_000) {
      collect()
      held.push(process.memoryUsage().heapUsed / 1e6)
    }
  }
  return { held, frame: (performance.now() - begun) / 216_000 }
}

/** On air: how soon, how steady, how much is drawn, and what it holds. */
export async function benchAir() {
  const crawl = await hourOfCrawl()
  return withServer(async (server) => {
    await prepare(server)
    const browser = await chromium.launch(chromiumLaunch)
    try {
      const page = await open(browser, server.base)
      const soon = await takes(page, server)
      await server.post(`/air/${channel}/clear`, {})
      const idle = await shown(page, () => page.waitForTimeout(5000))
      await server.post(`/air/${channel}/take`, { item: 'crawl' })
      await server.post(`/air/${channel}/take`, { item: 'a' })
      await page.waitForTimeout(1500)
      const running = await shown(page, async () => {
        for (let i = 0; i < seconds / 2; i++) {
          await server.post(`/air/${channel}/take`, { item: i % 2 ? 'a' : 'b' })
          await page.waitForTimeout(2000)
        }
      })
      const session = await page.context().newCDPSession(page)
      const holds = []
      const begun = performance.now()
      for (let i = 0; i < updates; i++) {
        await server.post(`/air/${channel}/update`, { layer: 'l1', cells: { role: `Reading ${i}` } })
        if (i === updates / 2 || i === updates - 1) holds.push(await heap(page, session))
        const wait = begun + (i + 1) * 50 - performance.now()
        if (wait > 0) await page.waitForTimeout(wait)
      }
      const one = (value) => ({ median: value, least: value })
      const whole = 1920 * 1080
      return {
        name: 'On air, 1920 x 1080 at 60 frames a second, drawn by software',
        figures: [
          `take to the first changed pixel of the page's canvas: median ${percentile(soon, 0.5).toFixed(0)} ms, slowest ${Math.max(...soon).toFixed(0)} of ${soon.length}`,
          `frames on time with the speaker going over every two seconds and a crawl: ${(running.onTime * 100).toFixed(2)} % over ${seconds} s (99 % of steps within ${running.late.toFixed(1)} ms); with nothing up ${(idle.onTime * 100).toFixed(2)} %`,
          `drawn of each frame: ${((running.drawn / whole) * 100).toFixed(1)} % of the picture (median); with nothing up ${idle.frames} frames`,
          `${updates} updates at 20 a second: ${holds.map((mb) => mb.toFixed(1)).join(' and ')} MB of heap after half of them and after all`,
          `an hour of a crawl, every frame composed, in ${crawl.frame.toFixed(2)} ms: ${crawl.held.map((mb) => mb.toFixed(1)).join(' and ')} MB after a tenth and after all of it`,
        ],
        ratios: [
          {
            claim: 'of 80 ms to the first pixel',
            want: 1,
            median: percentile(soon, 0.5) / 80,
            least: Math.min(...soon) / 80,
            atLeast: false,
          },
          {
            claim: 'of the frames on time that the same page has with nothing up',
            want: 0.99,
            ...one(running.onTime / idle.onTime),
            atLeast: true,
          },
          { claim: 'of the picture drawn in each frame', want: 0.25, ...one(running.drawn / whole), atLeast: false },
          {
            claim: 'heap after all updates against half of them',
            want: 1.15,
            ...one(holds[1] / holds[0]),
            atLeast: false,
          },
          {
            claim: 'heap after an hour of crawl against six minutes',
            want: 1.15,
            ...one(crawl.held[1] / crawl.held[0]),
            atLeast: false,
          },
        ],
      }
    } finally {
      await browser.close()
    }
  })
}
