import { execFileSync } from 'node:child_process'
import { mkdtempSync, openAsBlob, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { designFrom, withFootage, withMedium, withTitles } from '@hoja/core/programme'
import { programmeDocument } from '@hoja/core/session'
import { chromium } from '@playwright/test'
import { chromiumLaunch } from '../scripts/chromium.mjs'
import { percentile, withServer } from './kit.mjs'

const minutes = (n) => n * 60 * 25

/** Changes a programme on the server as a page does. */
async function changed(ask, id, change) {
  const { programme, revision } = await ask(`/programmes/${id}`)
  const { done } = programmeDocument.apply(programme, { change })
  await ask(`/programmes/${id}`, {
    method: 'PATCH',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ revision, patches: done.patches }),
  })
}

/** A programme with so many titles of the speaker, evenly over some minutes of drawn shots. */
async function longProgramme({ ask, post }, name, count, length, footage) {
  const { versions } = await ask('/templates/speaker')
  const version = await ask(`/versions/${versions[0].id}`)
  const { id } = await post('/programmes', { name, width: 1920, height: 1080, rate: '25', start: '10:00:00:00' })
  const medium = footage ? await footage(id) : undefined
  await changed(ask, id, (own) => {
    let next = own
    if (medium) {
      const laid = withMedium(next, medium)
      next = withFootage(laid.programme, laid.id, 0, 'f1').programme
    } else
      for (let n = 0; n < length / minutes(3); n++) {
        const laid = withMedium(next, { kind: 'shot', name: `Shot ${n}`, frames: minutes(3), scene: n % 4 })
        next = withFootage(laid.programme, laid.id, n * minutes(3), 'f1').programme
      }
    const design = designFrom(next, version, version.content)
    const every = Math.floor(length / count)
    const titles = Array.from({ length: count }, (_, i) => ({
      at: i * every,
      frames: Math.min(every, Math.max(design.in + design.out, 60)),
      design: String(version.id),
      words: { cells: { name: `Maren Castellví ${i}`, role: `Station ${i}, outer bar`, mark: 'vado.png' } },
    }))
    return withTitles(next, titles, { track: 't1', designs: { [version.id]: design } }).programme
  })
  return id
}

/** ms of what a page measures under a name while something is done. */
async function measuredIn(page, name, work) {
  await page.evaluate((wanted) => {
    window.__found = []
    window.__watch = new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) if (entry.name === wanted) window.__found.push(entry.duration)
    })
    window.__watch.observe({ type: 'measure' })
  }, name)
  await work()
  return page.evaluate(() => {
    window.__watch.disconnect()
    return window.__found
  })
}

/** 90 minutes with 2,000 titles: opened, run through, edited. */
async function large(server) {
  const id = await longProgramme(server, 'Ninety minutes', 2000, minutes(90))
  const browser = await chromium.launch(chromiumLaunch)
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const opened = []
    for (let i = 0; i < 5; i++) {
      await page.goto('about:blank')
      const start = performance.now()
      await page.goto(`${server.base}/programmes/${id}`, { waitUntil: 'commit' })
      await page.getByRole('list', { name: 'Titles' }).getByRole('listitem').first().waitFor()
      await page.getByRole('button', { name: /^Maren Castellví 0,/ }).waitFor()
      opened.push(performance.now() - start)
    }
    await page
      .getByText(/^\d+ look|fine/)
      .first()
      .waitFor()
    await page.getByRole('button', { name: 'All', exact: true }).click()
    // The playhead dragged along the ruler: how many frames a second the page paints meanwhile.
    const ruler = await page.locator('[data-timeline]').boundingBox()
    await page.evaluate(() => {
      window.__frames = 0
      const tick = () => {
        window.__frames++
        window.__ticking = requestAnimationFrame(tick)
      }
      tick()
    })
    await page.mouse.move(ruler.x + 20, ruler.y + 10)
    await page.mouse.down()
    const began = performance.now()
    const before = await page.evaluate(() => window.__frames)
    const drawn = await measuredIn(page, 'hoja programme frame', async () => {
      for (let i = 0; i < 120; i++) await page.mouse.move(ruler.x + 20 + i * 9, ruler.y + 10)
    })
    const frames = (await page.evaluate(() => window.__frames)) - before
    const seconds = (performance.now() - began) / 1000
    await page.mouse.up()
    const edits = await measuredIn(page, 'hoja programme edit', async () => {
      await page.keyboard.press('PageDown')
      for (let i = 0; i < 20; i++) await page.keyboard.press('Alt+ArrowLeft')
      for (let i = 0; i < 20; i++) await page.keyboard.press('ControlOrMeta+ArrowRight')
    })
    return {
      opened: percentile(opened, 0.5),
      soonest: Math.min(...opened),
      painted: frames / seconds,
      picture: percentile(drawn, 0.95),
      edit: percentile(edits, 0.95),
      quickest: Math.min(...edits),
    }
  } finally {
    await browser.close()
  }
}

/** 1080p with something in every pixel, as a camera has it: a minute of it, over and over. */
function movie(folder, seconds) {
  const [minute, file] = [join(folder, 'minute.mp4'), join(folder, 'footage.mp4')]
  const source = ['-f', 'lavfi', '-i', `testsrc2=s=1920x1080:r=25:d=${Math.min(60, seconds)},noise=alls=3:allf=t`]
  const coder = ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '23', '-pix_fmt', 'yuv420p']
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...source, ...coder, minute])
  const times = String(Math.ceil(seconds / 60) - 1)
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-stream_loop',
    times,
    '-i',
    minute,
    '-t',
    String(seconds),
    '-c',
    'copy',
    file,
  ])
  return file
}

/** Footage of 1080p with titles played at 960 x 540, and rendered for review beside ffmpeg with the footage alone. */
async function footage(server) {
  const folder = mkdtempSync(join(tmpdir(), 'hoja-bench-'))
  const seconds = Number(process.env.REVIEW_SECONDS ?? 120)
  try {
    const file = movie(folder, seconds)
    const bring = async (id) => {
      const form = new FormData()
      form.append('file', await openAsBlob(file), 'footage.mp4')
      return (await fetch(`${server.base}/api/programmes/${id}/media`, { method: 'POST', body: form })).json()
    }
    const count = Math.round(seconds / 10)
    const id = await longProgramme(server, 'Footage', count, seconds * 25, bring)
    const { programme } = await server.ask(`/programmes/${id}`)
    const { sha256 } = Object.values(programme.media)[0]
    for (;;) {
      const { state } = await server.ask(`/footage/${sha256}`)
      if (state !== 'making') break
      await new Promise((done) => setTimeout(done, 300))
    }
    const browser = await chromium.launch(chromiumLaunch)
    let played
    try {
      const page = await browser.newPage({ viewport: { width: 1700, height: 1100 } })
      await page.goto(`${server.base}/programmes/${id}`)
      const picture = page.getByRole('img', { name: "The programme's picture" })
      await picture.waitFor()
      await page.waitForTimeout(2000)
      const size = await picture.evaluate((canvas) => canvas.width)
      const drawn = await measuredIn(page, 'hoja programme frame', async () => {
        await page.keyboard.press('Space')
        await page.waitForTimeout(10_000)
        await page.keyboard.press('Space')
      })
      played = { size, frames: drawn.length / 10, late: percentile(drawn, 0.99) }
    } finally {
      await browser.close()
    }
    const review = await server.post(`/programmes/${id}/review`, {})
    let milliseconds
    for (;;) {
      const { state, titles } = await server.ask(`/outputs/${review.id}`)
      milliseconds = titles[0].milliseconds
      if (state === 'done') break
      await new Promise((done) => setTimeout(done, 300))
    }
    const alone = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p', '-f', 'mp4']
    const start = performance.now()
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', file, ...alone, join(folder, 'alone.mp4')])
    const ffmpeg = performance.now() - start
    // The same titles by themselves, as they would be rendered otherwise.
    const [titles] = await server.post(`/programmes/${id}/outputs`, { settings: { format: 'png' } })
    const began = performance.now()
    for (;;) {
      if ((await server.ask(`/outputs/${titles.id}`)).state === 'done') break
      await new Promise((done) => setTimeout(done, 100))
    }
    const own = performance.now() - began
    return { played, seconds, count, review: milliseconds / 1000, ffmpeg: ffmpeg / 1000, own: own / 1000 }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** A programme of 90 minutes and 2,000 titles in the page; 1080p footage with titles, played and rendered for review. */
export async function benchProgramme() {
  return withServer(async (server) => {
    const page = await large(server)
    const shot = await footage(server)
    const { played, review, ffmpeg, own } = shot
    const ratio = (review - own) / ffmpeg
    return {
      name: 'A programme: 90 minutes with 2,000 titles; 1080p footage with titles',
      figures: [
        `opened in ${page.opened.toFixed(0)} ms (least ${page.soonest.toFixed(0)})`,
        `while the playhead is dragged the page paints ${page.painted.toFixed(0)} frames a second, a picture in ${page.picture.toFixed(1)} ms (95 %)`,
        `an edit takes ${page.edit.toFixed(1)} ms (95 %)`,
        `footage of 25 frames a second shown at ${played.size} px: ${played.frames.toFixed(1)} painted a second, each in ${played.late.toFixed(1)} ms (99 %)`,
        `a review of ${shot.seconds} s with ${shot.count} titles: ${review.toFixed(1)} s; ffmpeg with the footage alone: ${ffmpeg.toFixed(1)} s; the titles alone: ${own.toFixed(1)} s`,
      ],
      ratios: [
        { claim: 'of 1.5 s to open', want: 1, median: page.opened / 1500, least: page.soonest / 1500 },
        {
          claim: 'of 30 frames a second while dragged',
          want: 1,
          atLeast: true,
          median: page.painted / 30,
          least: page.painted / 30,
        },
        { claim: 'of 16 ms for an edit', want: 1, median: page.edit / 16, least: page.quickest / 16 },
        {
          claim: "of the footage's rate while it plays",
          want: 0.98,
          atLeast: true,
          median: played.frames / 25,
          least: played.frames / 25,
        },
        {
          claim: 'the time of ffmpeg with the footage alone, less what the titles take',
          want: 1.25,
          median: ratio,
          least: ratio,
        },
      ],
    }
  })
}
