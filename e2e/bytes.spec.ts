import { createHash } from 'node:crypto'
import { ApngWriter } from '@hoja/core/formats'
import { Scene } from '@hoja/core/scene'
import { carriedBy, type Template, type Values } from '@hoja/core/template'
import { build } from 'vite'
import { openPackage } from '../server/dist/packageFolder.js'
import { loadAssets } from '../server/dist/render/assets.js'
import { Raster } from '../server/dist/render/raster.js'
import { movieParts, styleTemplates } from './bytes/styles.ts'
import { expect, type Page, test } from './test.ts'

type Package = Awaited<ReturnType<typeof openPackage>>

const rows: Values[] = [
  {},
  {
    name: 'Maximiliana Theodora von Hollenstein',
    role: 'Head of sediment and tidal-flat restoration',
    mark: 'lamp.png',
  },
  { name: 'ليلى الساحلي', role: 'باحثة في المد والجزر', mark: 'eel.png' },
  { name: 'Ngọc Ánh Đặng', role: '' },
  { name: '海野 さくら 🦀', role: '潮汐研究員', mark: 'gull.png' },
  { name: 'Wilhelmina-Alexandrina Fotheringay-Ludlow-Okonkwo of Puerto Brisal', role: 'x' },
]
const frames = [0, 1, 3, 5, 6, 7, 8, 9, 11, 13, 15, 118]

/** A page that holds the interface's own painter and nothing else. */
async function openPainter(page: Page): Promise<void> {
  const bundle = await build({
    configFile: false,
    logLevel: 'error',
    resolve: { conditions: ['source', 'module', 'browser'] },
    build: {
      write: false,
      target: 'es2022',
      rollupOptions: { input: 'e2e/bytes/page.ts', output: { entryFileNames: 'page.js' } },
    },
  })
  const { output } = (Array.isArray(bundle) ? bundle[0] : bundle) as {
    output: { fileName: string; type: string; code?: string; source?: string | Uint8Array }[]
  }
  for (const file of output)
    await page.route(`**/${file.fileName}`, (route) =>
      route.fulfill({
        body: file.code ?? Buffer.from(file.source as Uint8Array),
        contentType: file.fileName.endsWith('.wasm') ? 'application/wasm' : 'text/javascript',
      }),
    )
  await page.route('**/bytes.html', (route) =>
    route.fulfill({ contentType: 'text/html', body: '<!doctype html><script type="module" src="/page.js"></script>' }),
  )
  await page.goto('/bytes.html')
  await page.waitForFunction(() => 'paintedHashes' in window)
}

/** What templates carry, read once for all that carry the same. */
const known = new Map<string, ReturnType<typeof loadAssets>>()

/** SHA-256 of whole frames as the server paints them. */
async function serverHashes(pack: Package, template: Template, values: Values[], at: number[]): Promise<string[]> {
  const key = JSON.stringify(carriedBy(template))
  const assets = known.get(key) ?? loadAssets(template, (entry: { file: string }) => pack.files[entry.file]!)
  known.set(key, assets)
  const scene = new Scene(template, await assets)
  const raster = new Raster()
  const full = { x: 0, y: 0, width: template.frame.width, height: template.frame.height }
  return values.flatMap((row) =>
    at.map((frame) =>
      createHash('sha256')
        .update(raster.draw(scene.frame(scene.layout(row), scene.timing(scene.layout({})), frame), full))
        .digest('hex'),
    ),
  )
}

const browserHashes = (page: Page, template: Template, values: Values[], at: number[]) =>
  page.evaluate(([t, r, f]) => window.paintedHashes(t, r, f), [template, values, at] as [Template, Values[], number[]])

// Invariant 1: the browser's canvas and the server's raster paint the same draw list to the same bytes.
test('12 frames of 6 rows: browser and server paint the same bytes', async ({ page }) => {
  await openPainter(page)
  const pack = await openPackage('demo/templates/speaker')
  const inBrowser = await browserHashes(page, pack.template, rows, frames)
  const onServer = await serverHashes(pack, pack.template, rows, frames)
  const differing = onServer.flatMap((hash, i) =>
    hash === inBrowser[i] ? [] : [`row ${Math.floor(i / frames.length)} frame ${frames[i % frames.length]}`],
  )
  expect(differing).toEqual([])
  expect(new Set(onServer).size).toBeGreaterThan(50)
})

test('a movie: browser and server show the same frame of it at every frame, to the byte', async ({ page }) => {
  await openPainter(page)
  const pack = await openPackage('demo/templates/speaker')
  const size = { width: 48, height: 36, rate: { num: 10, den: 1 } }
  const writer = new ApngWriter(size)
  // Pictures whose every pixel differs, half clear here and there: nothing that rounding could hide behind.
  for (let n = 0; n < 6; n++)
    writer.add(Uint8Array.from({ length: 48 * 36 * 4 }, (_, i) => ((i + n * 977) * 2654435761) >>> 24))
  const bytes = writer.bytes()
  const sha256 = createHash('sha256').update(bytes).digest('hex')
  const file = 'media/boats.apng'
  const media = [{ id: 'boats', name: 'boats.mov', file, sha256, ...size, movie: { frames: 6, rate: size.rate } }]
  const template = { ...pack.template, fields: [], proofs: [], parts: movieParts, media }
  await page.route(`**/api/assets/${sha256}`, (route) => route.fulfill({ body: Buffer.from(bytes) }))
  const at = [0, 4, 7, 13, 20, 60, 120]
  const inBrowser = await browserHashes(page, template, [{}], at)
  expect(inBrowser).toEqual(
    await serverHashes({ ...pack, files: { ...pack.files, [file]: bytes } }, template, [{}], at),
  )
  expect(new Set(inBrowser).size).toBeGreaterThan(4)
})

test('every way of drawing: browser and server paint the same bytes', async ({ page }) => {
  await openPainter(page)
  const pack = await openPackage('demo/templates/speaker')
  const at = [0, 2, 5, 20]
  const differing: string[] = []
  const seen = new Set<string>()
  for (const [name, template] of styleTemplates(pack.template)) {
    const [inBrowser, onServer] = [
      await browserHashes(page, template, [{}], at),
      await serverHashes(pack, template, [{}], at),
    ]
    onServer.forEach((hash, i) => {
      seen.add(hash)
      if (hash !== inBrowser[i]) differing.push(`${name}, frame ${at[i]}`)
    })
  }
  expect(differing).toEqual([])
  expect(seen.size).toBeGreaterThan(25)
})
