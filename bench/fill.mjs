import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { chromiumLaunch } from '../scripts/chromium.mjs'
import { percentile, withServer } from './kit.mjs'

const rows = 10_000
const longRows = 50_000

/** A word of so many letters that did not come before: a browser remembers the widths of words it has measured. */
function word(n, salt, length) {
  let state = (Math.imul(n + 1, 0x9e3779b1) ^ Math.imul(salt, 0x85ebca6b)) >>> 0
  let letters = ''
  for (let k = 0; k < length; k++) {
    // xorshift32 (G. Marsaglia, "Xorshift RNGs", 2003).
    state ^= state << 13
    state ^= state >>> 17
    state ^= state << 5
    letters += String.fromCharCode(97 + ((state >>> 0) % 26))
  }
  return letters
}
/** Three texts of a row, as long as those of the demo: a place, what goes on there, a name. */
const textsOf = (n) => [
  `${word(n, 1, 8)} ${word(n, 2, 9)}`,
  `${word(n, 3, 8)}, ${word(n, 4, 12)} ${word(n, 5, 6)}`,
  `${word(n, 6, 7)} ${word(n, 7, 8)}`,
]

/** Until every row of the open sheet is checked; until each was looked at, too. */
const checked = (page) => page.getByText(', checking').waitFor({ state: 'detached', timeout: 300_000 })
const looked = (page) => page.getByText('looked at so far').waitFor({ state: 'detached', timeout: 300_000 })
const median = (list) => percentile(list, 0.5)

/** Everything that a page's threads measured by a name while `act` ran; ms. */
async function measuredWhile(page, names, act) {
  const session = await page.context().newCDPSession(page)
  const events = []
  session.on('Tracing.dataCollected', ({ value }) => events.push(...value))
  await session.send('Tracing.start', { categories: 'blink.user_timing' })
  await act()
  const complete = new Promise((done) => session.once('Tracing.tracingComplete', done))
  await session.send('Tracing.end')
  await complete
  const begun = new Map()
  const spans = []
  for (const e of events.filter((one) => names.includes(one.name)).sort((a, b) => a.ts - b.ts)) {
    const key = `${e.name} ${e.pid} ${e.tid} ${e.id ?? e.id2?.local}`
    if (e.ph === 'b') begun.set(key, e.ts)
    else if (e.ph === 'e' && begun.has(key)) spans.push((e.ts - begun.get(key)) / 1000)
  }
  return spans
}

/** A template with three texts that are filled: the tide, its height made a text of its own kind again; in one shape of the frame or two. */
async function threeTexts({ base, ask, post }, shapes) {
  const { id } = await post('/templates/tide/duplicate', {})
  const { revision, template } = await ask(`/templates/${id}`)
  const fields = template.fields.map((field) => {
    if (field.key !== 'height') return { ...field, limit: undefined }
    const { format: _, ...rest } = field
    return { ...rest, type: 'text', default: 'high' }
  })
  const put = await fetch(`${base}/api/templates/${id}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      revision,
      template: { ...template, fields, ...(shapes === 1 ? { shapes: undefined } : {}) },
    }),
  })
  if (!put.ok) throw new Error(await put.text())
  return { id, version: (await post(`/templates/${id}/versions`, {})).id }
}

const makeSheet = async ({ base }, version, count) => {
  const lines = [
    'station,trend,height',
    ...Array.from({ length: count }, (_, n) =>
      textsOf(n)
        .map((t) => `"${t}"`)
        .join(','),
    ),
  ]
  const form = new FormData()
  form.append('version', String(version))
  form.append('file', new Blob([lines.join('\n')]), 'bench.csv')
  return (await fetch(`${base}/api/sheets/import`, { method: 'POST', body: form })).json()
}

/** Bare measureText of the same strings, in the same browser; ms. */
async function reference(page, fontFile) {
  const font = readFileSync(fontFile).toString('base64')
  await page.evaluate(async (data) => {
    const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0))
    document.fonts.add(await new FontFace('bench', bytes).load())
  }, font)
  const texts = Array.from({ length: rows }, (_, n) => textsOf(n))
  return page.evaluate((list) => {
    const context = document.createElement('canvas').getContext('2d')
    const start = performance.now()
    for (const [a, b, c] of list) {
      context.font = '36px bench'
      context.measureText(a)
      context.font = '32px bench'
      context.measureText(b)
      context.font = '104px bench'
      context.measureText(c)
    }
    return performance.now() - start
  }, texts)
}

/** A long sheet scrolled through by its scroll bar; ms of every frame. */
async function scrolled(page) {
  return page.evaluate(async () => {
    const grid = document.querySelector('[data-testid="grid"] .dsg-container')
    const frames = []
    let last = await new Promise(requestAnimationFrame)
    for (let step = 0; step < 400; step++) {
      // Some rows, then pages, then jumps.
      grid.scrollTop += step < 200 ? 90 : step < 300 ? 900 : 9000
      const now = await new Promise(requestAnimationFrame)
      frames.push(now - last)
      last = now
    }
    return frames
  })
}

/** From a save of a followed file to the proof that shows it; ms. */
async function savedToShown(page, { base, ask, data }) {
  const [sheet] = (await ask('/sheets?template=tide')).filter((one) => one.link)
  await page.goto(`${base}/t/tide/fill/${sheet.id}`)
  const proof = page.getByRole('img', { name: /^Row 1 at frame/ })
  await proof.waitFor()
  await page.waitForTimeout(1500)
  const file = join(data, 'followed/tide.json')
  const content = JSON.parse(readFileSync(file, 'utf8'))
  const times = []
  for (let i = 0; i < 20; i++) {
    content.readings[0].height = Math.round((i * 1.37 + 0.11) * 100) / 100
    content.readings[0].station = `Puerto Brisal ${i}`
    const shown = page.evaluate(() => {
      const canvas = document.querySelector('canvas[aria-label^="Row 1 at frame"]') ?? document.querySelector('canvas')
      const look = () =>
        canvas
          .getContext('2d')
          .getImageData(0, 0, canvas.width, canvas.height)
          .data.reduce((s, b, k) => (s * 31 + b * (k % 97)) | 0, 7)
      const before = look()
      return new Promise((done) => {
        const until = performance.now() + 5000
        const step = () =>
          look() === before && performance.now() < until
            ? requestAnimationFrame(step)
            : done(performance.timeOrigin + performance.now())
        requestAnimationFrame(step)
      })
    })
    await page.waitForTimeout(120)
    const start = performance.timeOrigin + performance.now()
    writeFileSync(file, JSON.stringify(content, null, 1))
    times.push((await shown) - start)
    await page.waitForTimeout(150)
  }
  return times
}

/** Checks of a whole sheet, of one edit, a long grid, a followed file: all in Chromium, on the real page. */
export async function benchFill() {
  const font = 'demo/templates/tide/fonts/'
  return withServer(async (server) => {
    const browser = await chromium.launch(chromiumLaunch)
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const font0 = readdirSync(font)[0]
    const references = []
    /** By shapes of the frame: ms of checks and of looks, each of all rows. */
    const checks = { 1: [], 2: [] }
    const looks = { 1: [], 2: [] }
    let edits = []
    let version
    for (const shapes of [1, 2]) {
      const made = await threeTexts(server, shapes)
      version = made.version
      const { id } = made
      const sheet = await makeSheet(server, version, rows)
      for (let round = 0; round < 4; round++) {
        await page.goto(`${server.base}/t/${id}/draft`)
        const own = await reference(page, `${font}${font0}`)
        const opened = async () => {
          await page.goto(`${server.base}/t/${id}/fill/${sheet.id}`)
          await page.getByText(`of ${rows.toLocaleString('en')} rows, version`).waitFor()
          await checked(page)
          await looked(page)
          await page.waitForTimeout(1500)
        }
        const sum = (list) => list.reduce((all, one) => all + one, 0)
        const names = ['hoja checks', 'hoja comparison']
        const spans = sum(await measuredWhile(page, names, opened))
        const looking = round === 3 ? sum(await measuredWhile(page, ['hoja looks'], opened)) : undefined
        // The first round warms both up.
        if (round === 0) continue
        references.push(own)
        checks[shapes].push(spans)
        if (looking === undefined) continue
        looks[shapes].push(looking)
        if (shapes === 1) continue
        const grid = page.getByTestId('grid')
        const both = []
        for (const what of ['hoja edit', 'hoja recheck'])
          both.push(
            await measuredWhile(page, [what], async () => {
              for (let i = 0; i < 12; i++) {
                await grid
                  .locator('.dsg-cell')
                  .filter({ hasText: /^[a-z]+ [a-z]+$/ })
                  .nth(i)
                  .click()
                await page.keyboard.type(`${word(i + 90_000 + (what === 'hoja edit' ? 0 : 50), 9, 8)} ${word(i, 8, 5)}`)
                await page.keyboard.press('Enter')
                await page.waitForTimeout(120)
              }
            }),
          )
        edits = both[0].map((span, i) => span + (both[1][i] ?? 0))
      }
    }
    const long = await makeSheet(server, version, longRows)
    await page.goto(`${server.base}/t/tide/fill/${long.id}`)
    await page.getByText(`of ${longRows.toLocaleString('en')} rows, version`).waitFor({ timeout: 120_000 })
    const busy = await scrolled(page)
    if (!(await page.getByText(', checking').isVisible()))
      throw new Error('It was checked before it was scrolled through.')
    await checked(page)
    await page.waitForTimeout(8000)
    const frames = await scrolled(page)
    const saves = await savedToShown(page, server)
    await browser.close()
    const ms = (n) => `${n.toFixed(n < 10 ? 1 : 0)} ms`
    return {
      name: 'Fill',
      figures: [
        ...[1, 2].flatMap((shapes) => [
          `${rows} rows of three texts checked on one worker, ${shapes} shape${shapes === 1 ? '' : 's'}: ${ms(median(checks[shapes]))} (least ${ms(Math.min(...checks[shapes]))})`,
          `… then looked at: ${Math.round((rows * 1000) / median(looks[shapes]))} rows a second, of 300`,
        ]),
        `30,000 measureText calls: ${ms(median(references))} (least ${ms(Math.min(...references))})`,
        `one cell edited in ${rows} rows: ${ms(median(edits))}, slowest ${ms(Math.max(...edits))}, of 5`,
        `${longRows} rows scrolled: frames ${ms(median(frames))}, p99 ${ms(percentile(frames, 0.99))}, slowest ${ms(Math.max(...frames))}, of 50`,
        `… while they are being checked: frames ${ms(median(busy))}, p99 ${ms(percentile(busy, 0.99))}, slowest ${ms(Math.max(...busy))}, of 50`,
        `a saved file in the proof: ${ms(median(saves))}, slowest ${ms(Math.max(...saves))}, of 500`,
      ],
      ratios: [1, 2].map((shapes) => ({
        claim: `times 30,000 bare measureText calls in the same browser, for ${shapes} shape${shapes === 1 ? '' : 's'} of the frame`,
        want: shapes === 1 ? 4 : 6,
        median: median(checks[shapes]) / median(references),
        least: Math.min(...checks[shapes]) / Math.min(...references),
        atLeast: false,
      })),
    }
  })
}
