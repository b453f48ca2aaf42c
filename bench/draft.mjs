import { checkLayout, generatedProofs } from '@hoja/core/data'
import { boundsOf, pixelRegion } from '@hoja/core/paint'
import { Scene } from '@hoja/core/scene'
import { addPalette, allParts, edit, exposeColour, newPart, paletteChoice, recolour } from '@hoja/core/template'
import { chromium } from '@playwright/test'
import { chromiumLaunch } from '../scripts/chromium.mjs'
import { Raster } from '../server/dist/render/raster.js'
import { demoScene, percentile, withServer } from './kit.mjs'

const proof = { width: 208, height: 78 }
const frameBudget = 16
const otherDemos = ['talk', 'place', 'tide', 'species', 'speaker-rtl']

/** The first part that holds to another across, with another gap. */
function dragged(template, gap) {
  const part = allParts(template.parts).find((one) => one.x.ties.some((tie) => 'parts' in tie.to))
  const ties = part.x.ties.map((tie, i) => (i === part.x.ties.length - 1 ? { ...tie, gap: tie.gap + gap } : tie))
  return edit(template, { kind: 'axis', part: part.id, axis: 'x', value: { ...part.x, ties } })
}

/**
 * What Draft does for eight proofs at every step of `changed`: the change, then layout, check, crop and draw of each; ms.
 * @param given what every proof is filled with besides, at a step
 */
async function eightProofs(name, changed = dragged, given = () => ({})) {
  const base = await demoScene(name)
  const raster = new Raster()
  const fillings = [
    ...base.template.proofs.map((p) => p.values),
    ...generatedProofs(base.template).map((p) => p.values),
    {},
    {},
  ].slice(0, 8)
  const times = []
  let scene
  for (let step = -60; step < 120; step++) {
    const start = performance.now()
    const template = changed(base.template, (step + 60) % 30)
    if (template !== scene?.template) scene = new Scene(template, base.assets)
    const timing = scene.timing(scene.layout({}))
    for (const own of fillings) {
      const values = { ...own, ...given(step + 60) }
      const layout = scene.layout(values)
      checkLayout(scene, layout, timing)
      const list = scene.restFrame(layout)
      const touched = pixelRegion(boundsOf(list.items), 1920, 1080)
      const scale = proof.width / Math.max(touched.width + 80, 864)
      const region = { x: touched.x - 40, y: touched.y - 40, width: proof.width / scale, height: proof.height / scale }
      raster.draw(list, region, scale)
    }
    if (step >= 0) times.push(performance.now() - start)
  }
  return times
}

const known = new Map()
/** A template whose first colour editors choose, with a palette of another name; the same at every step. */
function withPalettes(template) {
  if (known.has(template)) return known.get(template)
  const [{ id }] = template.palette
  const exposed = edit(template, exposeColour(template, id))
  const { change, value } = addPalette(exposed, 'Evening')
  const named = edit(exposed, change)
  known.set(template, edit(named, recolour(paletteChoice(named), value, id, '#5a1846')))
  return known.get(template)
}

/** A template of 200 boxes in rows, each tied to the one before. */
export function largeTemplate(base, count) {
  const parts = Array.from({ length: count }, (_, i) => {
    const part = newPart('box', `p${i}`, `Box ${i}`)
    const first = i % 20 === 0
    const tie = {
      edge: 'start',
      to: first ? { region: 'title' } : { parts: [`p${i - 1}`] },
      at: first ? 'start' : 'end',
      gap: first ? 0 : 12,
      follow: 'settled',
      gone: 'collapse',
    }
    const keys = [
      { span: 'in', at: i % 8, value: 0, ease: 'linear' },
      { span: 'in', at: 12, value: 1, ease: 'linear' },
    ]
    return {
      ...part,
      x: { ties: [tie], place: 0, size: { kind: 'fixed', value: 60 } },
      y: { ties: [], place: 80 + Math.floor(i / 20) * 90, size: { kind: 'fixed', value: 60 } },
      motion: { ...part.motion, tracks: { fade: { keys } } },
    }
  })
  return { ...base, name: 'Two hundred', parts, fields: [], proofs: [] }
}

/** For each step of `act`, from Chromium's own trace: what kept the main thread busy, and what of it was proofs; ms. */
async function traced(page, steps, act) {
  const session = await page.context().newCDPSession(page)
  const events = []
  session.on('Tracing.dataCollected', ({ value }) => events.push(...value))
  await session.send('Tracing.start', { categories: 'devtools.timeline,toplevel,blink.user_timing' })
  for (let step = 0; step < steps; step++) {
    await page.evaluate((n) => performance.mark(`step ${n}`), step)
    await act(step)
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))))
  }
  await page.evaluate((n) => performance.mark(`step ${n}`), steps)
  const complete = new Promise((done) => session.once('Tracing.tracingComplete', done))
  await session.send('Tracing.end')
  await complete
  const marks = events
    .filter((e) => e.cat?.includes('blink.user_timing') && /^step \d+$/.test(e.name))
    .sort((a, b) => a.ts - b.ts)
  const main = marks[0].tid
  // The longest of the function calls and frames that a step brought about, summed: what the main thread was busy with.
  const work = events.filter(
    (e) =>
      e.tid === main &&
      e.ph === 'X' &&
      ['FunctionCall', 'FireAnimationFrame', 'EventDispatch', 'RunMicrotasks'].includes(e.name),
  )
  const spans = measured(events, 'hoja proof')
  const shown = measured(events, 'hoja proofs shown')
  return marks.slice(0, -1).map((mark, i) => {
    const inside = work.filter((e) => e.ts >= mark.ts && e.ts < marks[i + 1].ts).sort((a, b) => a.ts - b.ts)
    let [busy, end] = [0, 0]
    for (const e of inside) {
      if (e.ts < end) continue
      busy += e.dur
      end = e.ts + e.dur
    }
    let [tasks, until] = [0, 0]
    for (const e of events
      .filter((one) => isTask(one, main) && one.ts >= mark.ts && one.ts < marks[i + 1].ts)
      .sort((a, b) => a.ts - b.ts)) {
      if (e.ts < until) continue
      tasks += e.dur
      until = e.ts + e.dur
    }
    const proofs = spans
      .filter((span) => span.from >= mark.ts && span.from < marks[i + 1].ts)
      .reduce((sum, span) => sum + span.to - span.from, 0)
    const late = shown
      .filter((span) => span.from >= mark.ts && span.from < marks[i + 1].ts)
      .reduce((most, span) => Math.max(most, span.to - mark.ts), 0)
    return { busy: busy / 1000, proofs: proofs / 1000, tasks: tasks / 1000, late: late / 1000 }
  })
}

const isTask = (e, thread) => e.tid === thread && e.ph === 'X' && /(^|::)RunTask$/.test(e.name)

/** Begin and end of everything that the page measured under a name of User Timing, microseconds. */
function measured(events, name) {
  const open = new Map()
  const spans = []
  for (const e of events
    .filter((one) => one.name === name && one.cat?.includes('blink.user_timing'))
    .sort((a, b) => a.ts - b.ts)) {
    const id = e.id ?? JSON.stringify(e.id2)
    if (e.ph === 'b') open.set(id, e.ts)
    if (e.ph === 'e' && open.has(id)) spans.push({ from: open.get(id), to: e.ts })
  }
  return spans
}

async function inChromium() {
  return withServer(async ({ base, post }) => {
    const browser = await chromium.launch(chromiumLaunch)
    try {
      const page = await browser.newPage({ viewport: { width: 1280, height: 1100 } })
      await page.goto(`${base}/t/speaker/draft`)
      await page.getByTestId('frame').waitFor()
      await page
        .getByRole('listitem')
        .filter({ hasText: /^\d+Plate/ })
        .getByRole('button')
        .first()
        .click()
      await page.waitForTimeout(1500)
      const shown = await page.locator('aside[aria-label="Proofs"] canvas').count()
      const gap = await page.locator('[data-gap="Gap at the right of Plate"]').boundingBox()
      const [x, y] = [gap.x + gap.width / 2, gap.y + gap.height / 2]
      await page.mouse.move(x, y)
      await page.mouse.down()
      for (let i = 0; i < 10; i++) await page.mouse.move(x + i, y)
      const steps = await traced(page, 50, (n) => page.mouse.move(x + 10 + (n % 25), y))
      await page.mouse.up()

      const { template: speaker } = await (await fetch(`${base}/api/templates/speaker`)).json()
      const others = {}
      for (const name of otherDemos) others[name] = await nudged(page, `${base}/t/${name}/draft`)

      const made = await post('/templates', { name: 'Two hundred' })
      const { template, revision } = await (await fetch(`${base}/api/templates/${made.id}`)).json()
      await fetch(`${base}/api/templates/${made.id}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ revision, template: { ...largeTemplate(template, 200), palette: speaker.palette } }),
      })
      await page.goto(`${base}/t/${made.id}/draft`)
      await page.getByTestId('frame').waitFor()
      await page.waitForTimeout(1500)
      const frame = await page.getByTestId('frame').boundingBox()
      const at = (fx, fy) => [frame.x + (fx / 1920) * frame.width, frame.y + (fy / 1080) * frame.height]
      const interactions = {}
      const measure = async (name, count, act) => {
        interactions[name] = await traced(page, count, act)
      }
      await measure('choosing a part', 8, (n) => page.mouse.click(...at(130 + 72 * n, 110)))
      await page.mouse.click(...at(126, 110))
      await page.mouse.move(...at(126, 110))
      await page.mouse.down()
      await measure('dragging a part that 19 others follow', 12, (n) => page.mouse.move(...at(130 + 3 * n, 112)))
      await page.mouse.up()
      await measure('a step with the arrow keys', 8, () => page.keyboard.press('Alt+ArrowRight'))
      await measure('hiding and showing', 6, () => page.keyboard.press('h'))
      await measure('undo', 6, () => page.keyboard.press('Control+z'))
      await measure('a frame further', 6, () => page.keyboard.press('ArrowRight'))
      await page.getByRole('tab', { name: 'Style' }).click()
      await page.getByLabel('Opacity').focus()
      await measure('a number', 8, () => page.keyboard.press('ArrowDown'))
      const keys = await typed(page)
      return { steps, shown, interactions, others, keys }
    } finally {
      await browser.close()
    }
  })
}

/**
 * Words written into a text among 200 parts: from each key to the next picture of the page that shows it (Event Timing,
 * W3C; it tells of what takes 16 ms and more, to 8 ms), and to the proofs that show it; ms.
 */
async function typed(page) {
  await page.getByRole('button', { name: 'Draw a text' }).click()
  const frame = await page.getByTestId('frame').boundingBox()
  await page.mouse.click(frame.x + frame.width / 2, frame.y + frame.height * 0.95)
  await page.evaluate(() => {
    globalThis.told = []
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries())
        if (entry.name === 'keydown') globalThis.told.push(Math.round(entry.duration))
    }).observe({ type: 'event', durationThreshold: 16 })
  })
  await page.keyboard.type('Estuary ')
  const letters = 'the tide turns at fourteen fifty two '
  const steps = await traced(page, letters.length, (n) =>
    page.keyboard.press(letters[n] === ' ' ? 'Space' : letters[n]),
  )
  const told = await page.evaluate(() => globalThis.told)
  // What is not told of took less than 16 ms.
  const shown = [...told, ...Array(Math.max(0, letters.length + 8 - told.length)).fill(8)]
  return {
    shown,
    late: steps.map((step) => step.late).filter((late) => late > 0),
    busy: steps.map((step) => step.busy),
  }
}

/** A template's first text nudged by the arrow keys: what its proofs in sight take at each step, told for eight; ms. */
async function nudged(page, address) {
  await page.goto(address)
  await page.getByTestId('frame').waitFor()
  await page
    .getByRole('complementary', { name: 'Parts' })
    .getByRole('listitem')
    .filter({ hasText: /text$/ })
    .getByRole('button')
    .first()
    .click()
  await page.waitForTimeout(1500)
  const shown = await page.locator('aside[aria-label="Proofs"] canvas').count()
  for (let i = 0; i < 10; i++) await page.keyboard.press('Alt+ArrowRight')
  const steps = await traced(page, 30, () => page.keyboard.press('Alt+ArrowLeft'))
  return steps.map((step) => (step.proofs * 8) / shown)
}

/** Draft while a tie is dragged, and with a drawing of 200 parts. */
export async function benchDraft() {
  const node = await eightProofs('speaker')
  const others = []
  for (const name of otherDemos) others.push(`${name} ${percentile(await eightProofs(name), 0.5).toFixed(1)}`)
  const palettes = await eightProofs('speaker', withPalettes, (step) => ({
    palette: step % 2 ? 'evening' : 'as-drawn',
  }))
  // Another colour at every step, so that nothing of it is known.
  const colours = await eightProofs('speaker', withPalettes, (step) => ({
    'night-tide': `#${(0x12343b + 0x30507 * step).toString(16).padStart(6, '0').slice(-6)}`,
  }))
  const { steps, shown, interactions, others: nudges, keys } = await inChromium()
  const busy = (list) => list.map((step) => step.busy)
  const late = (list) => list.map((step) => step.late).filter((one) => one > 0)
  const slowest = Math.max(...Object.values(interactions).map((list) => percentile(busy(list), 0.5)))
  // As many proofs as fit were in sight; the claim is about eight.
  const proofs = steps.map((step) => (step.proofs * 8) / shown)
  const [inNode, inBrowser] = [percentile(node, 0.5), percentile(proofs, 0.5)]
  return {
    name: 'Drawing',
    figures: [
      `eight proofs of speaker solved, checked and drawn on the server's raster: median ${inNode.toFixed(1)} ms`,
      `of the others: ${others.join(', ')} ms`,
      `eight proofs of speaker when its palette is switched: median ${percentile(palettes, 0.5).toFixed(1)} ms; in a colour that was never given: ${percentile(colours, 0.5).toFixed(1)} ms`,
      `the same in Chromium beside the page (a worker) while a tie is dragged, by its trace (${shown} proofs in sight, told for eight): median ${inBrowser.toFixed(1)} ms, p90 ${percentile(proofs, 0.9).toFixed(1)} ms`,
      `of the others in Chromium, a text nudged: ${Object.entries(nudges)
        .map(([name, list]) => `${name} ${percentile(list, 0.5).toFixed(1)}`)
        .join(', ')} ms`,
      `all that a drag step does on the main thread (the frame, its measures, the tables; ${shown} proofs come from a worker): median ${percentile(busy(steps), 0.5).toFixed(1)} ms, p90 ${percentile(busy(steps), 0.9).toFixed(1)} ms`,
      `the main thread's tasks of such a step, the browser's own painting of the page included: median ${percentile(
        steps.map((step) => step.tasks),
        0.5,
      ).toFixed(1)} ms`,
      `from such a step to its proofs: median ${percentile(late(steps), 0.5).toFixed(0)} ms, p90 ${percentile(late(steps), 0.9).toFixed(0)} ms`,
      `200 parts, a key written on the frame, to the picture that shows it: median ${percentile(keys.shown, 0.5)} ms, p99 ${percentile(keys.shown, 0.99)} ms; our own work ${percentile(keys.busy, 0.5).toFixed(0)} ms`,
      ...Object.entries(interactions).map(
        ([name, list]) =>
          `200 parts, ${name}: median ${percentile(busy(list), 0.5).toFixed(0)} ms, most ${Math.max(...busy(list)).toFixed(0)} ms`,
      ),
    ],
    ratios: [
      {
        claim: `eight proofs (Node) of a frame of ${frameBudget} ms`,
        want: 1,
        median: inNode / frameBudget,
        least: Math.min(...node) / frameBudget,
        atLeast: false,
      },
      {
        claim: `eight proofs in another palette (Node) of a frame of ${frameBudget} ms`,
        want: 1,
        median: percentile(palettes, 0.5) / frameBudget,
        least: Math.min(...palettes) / frameBudget,
        atLeast: false,
      },
      {
        claim: 'what a drag step does on the main thread of 8 ms',
        want: 1,
        median: percentile(busy(steps), 0.5) / 8,
        least: Math.min(...busy(steps)) / 8,
        atLeast: false,
      },
      {
        claim: `the main thread's tasks of a drag step of a frame of ${frameBudget} ms`,
        want: 1,
        median:
          percentile(
            steps.map((step) => step.tasks),
            0.5,
          ) / frameBudget,
        least: Math.min(...steps.map((step) => step.tasks)) / frameBudget,
        atLeast: false,
      },
      {
        claim: 'a key on the frame (200 parts), to the picture that shows it, of 16 ms',
        want: 1,
        median: percentile(keys.shown, 0.5) / 16,
        least: Math.min(...keys.shown) / 16,
        atLeast: false,
      },
      {
        claim: 'slowest interaction with 200 parts of 100 ms',
        want: 1,
        median: slowest / 100,
        least: slowest / 100,
        atLeast: false,
      },
    ],
  }
}
