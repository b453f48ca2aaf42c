import { type ChildProcess, spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { createServer, type Server, type Socket } from 'node:net'
import { expect, type Page, test } from '@playwright/test'

// Faults that are really done to a server of this test's own: it is killed, its line is cut, its pages are closed.

const port = 4290
const data = 'node_modules/.e2e-data-faults'
const direct = `http://127.0.0.1:${port}`
let server: ChildProcess | undefined

async function start(): Promise<void> {
  server = spawn('node', ['server/dist/app/cli.js', 'serve', '--port', String(port), '--data', data], {
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const end = Date.now() + 60_000
  while (
    !(await fetch(`${direct}/api/air`).then(
      ({ ok }) => ok,
      () => false,
    ))
  ) {
    if (Date.now() > end) throw new Error('The server under test does not answer.')
    await new Promise((done) => setTimeout(done, 100))
  }
}

/** As a power cut would. */
async function kill(): Promise<void> {
  if (!server || server.exitCode !== null || server.signalCode !== null) return
  const gone = new Promise((done) => server!.once('exit', done))
  server!.kill('SIGKILL')
  await gone
}

/** A line to the server that can be stopped: what is sent then waits. */
class Line {
  readonly sockets = new Set<Socket>()
  private stopped = false
  private readonly server: Server

  constructor(readonly port: number) {
    this.server = createServer((near) => {
      const far = new (near.constructor as new () => Socket)()
      far.connect(this.port - 1000, '127.0.0.1')
      for (const [one, other] of [
        [near, far],
        [far, near],
      ] as const) {
        this.sockets.add(one)
        one.on('data', (bytes) => {
          if (!other.write(bytes)) one.pause()
        })
        other.on('drain', () => {
          if (!this.stopped) one.resume()
        })
        one.on('error', () => other.destroy())
        one.on('close', () => {
          this.sockets.delete(one)
          other.destroy()
        })
      }
      if (this.stopped) for (const one of [near, far]) one.pause()
    })
  }
  open = () => new Promise<void>((done) => this.server.listen(this.port, '127.0.0.1', done))
  stop(): void {
    this.stopped = true
    for (const socket of this.sockets) socket.pause()
  }
  goOn(): void {
    this.stopped = false
    for (const socket of this.sockets) socket.resume()
  }
  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy()
    await new Promise((done) => this.server.close(done))
  }
}

const post = async (path: string, body: object = {}) =>
  fetch(`${direct}/api/air/lower-third/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  })

const picture = (page: Page) =>
  page.evaluate(() => {
    const canvas = document.querySelector('canvas')
    if (!canvas) return ''
    const { data: pixels } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
    let [seen, sum] = [0, 0]
    for (let i = 0; i < pixels.length; i += 4)
      if (pixels[i + 3]! > 0) {
        seen++
        sum = (sum + pixels[i]! * 3 + pixels[i + 1]! * 5 + pixels[i + 2]! * 7 + i) % 1_000_000_007
      }
    return `${seen} ${sum}`
  })
const nothing = '0 0'

/** Until a title holds, and nothing of a page is drawn any more: what came in has arrived. */
async function stands(page: Page): Promise<void> {
  const phase = async () => {
    const { layers } = (await (await fetch(`${direct}/api/air/lower-third`)).json()) as { layers: { phase: string }[] }
    return layers[0]!.phase
  }
  await expect.poll(phase).toBe('holding')
  const drawn = () =>
    page.evaluate(
      () =>
        new Promise<boolean>((done) => {
          const canvas = document.querySelector('canvas')!
          const before = canvas.dataset.frame
          let left = 20
          requestAnimationFrame(function look() {
            if (--left > 0) requestAnimationFrame(look)
            else done(canvas.dataset.frame !== before)
          })
        }),
    )
  await expect.poll(drawn).toBe(false)
}

test.describe.configure({ mode: 'serial' })
test.beforeAll(async () => {
  rmSync(data, { recursive: true, force: true })
  await start()
})
test.afterAll(async () => {
  await kill()
  rmSync(data, { recursive: true, force: true })
})

test('killed with a title up, the server comes back to it; pages hold their picture, take up what they missed, and may be closed', async ({
  page,
}) => {
  await page.setViewportSize({ width: 1920, height: 1080 })
  await page.goto(`${direct}/out/lower-third`)
  await expect.poll(() => picture(page)).toBe(nothing)
  expect((await post('take')).status).toBe(200)
  await expect.poll(() => picture(page)).not.toBe(nothing)
  await stands(page)
  const held = await picture(page)
  await kill()
  expect(await picture(page)).toBe(held)
  await start()
  // Another page, opened now, shows the same; the old one goes on hearing.
  const other = await page.context().newPage()
  await other.setViewportSize({ width: 1920, height: 1080 })
  await other.goto(`${direct}/out/lower-third`)
  await expect.poll(() => picture(other)).toBe(held)
  expect(await picture(page)).toBe(held)
  expect((await post('update', { cells: { role: 'Keeper of the ferry' } })).status).toBe(200)
  await expect.poll(() => picture(page)).not.toBe(held)
  await page.close()
  await expect.poll(async () => (await picture(other)) !== held).toBe(true)
  expect((await post('out')).status).toBe(200)
  await expect.poll(() => picture(other)).toBe(nothing)
})

test('the network stopped for a minute: what is on air stays on the page, and then it shows what was done meanwhile', async ({
  page,
}) => {
  test.setTimeout(180_000)
  const line = new Line(port + 1000)
  await line.open()
  try {
    await page.setViewportSize({ width: 1920, height: 1080 })
    await page.goto(`http://127.0.0.1:${port + 1000}/out/lower-third`)
    const desk = await page.context().newPage()
    await desk.goto(`http://127.0.0.1:${port + 1000}/air/lower-third`)
    await expect(desk.getByRole('button', { name: /^Take Enter/ })).toBeEnabled()
    await post('take')
    await expect.poll(() => picture(page)).not.toBe(nothing)
    await stands(page)
    const held = await picture(page)
    line.stop()
    const begun = Date.now()
    await post('update', { cells: { role: 'Nobody hears this yet' } })
    await expect(desk.getByRole('alert')).toContainText('Hoja does not answer', { timeout: 30_000 })
    await expect(desk.getByRole('button', { name: /^Take Enter/ })).toBeDisabled()
    while (Date.now() - begun < 60_000) {
      expect(await picture(page)).toBe(held)
      await new Promise((done) => setTimeout(done, 2000))
    }
    line.goOn()
    await expect.poll(() => picture(page), { timeout: 30_000 }).not.toBe(held)
    await expect(desk.getByRole('alert')).toBeHidden({ timeout: 30_000 })
    await expect(desk.getByRole('region', { name: 'What may change while it is up' }).getByLabel('Role')).toHaveValue(
      'Nobody hears this yet',
    )
    await post('clear')
    await expect.poll(() => picture(page)).toBe(nothing)
  } finally {
    await line.close()
  }
})
