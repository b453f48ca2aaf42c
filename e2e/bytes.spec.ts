import { createHash } from 'node:crypto'
import { Scene } from '@hoja/core/scene'
import type { Template, Values } from '@hoja/core/template'
import { expect, test } from '@playwright/test'
import { build } from 'vite'
import { openPackage } from '../server/dist/packageFolder.js'
import { loadAssets } from '../server/dist/render/assets.js'
import { Raster } from '../server/dist/render/raster.js'

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

// Invariant 1: the browser's canvas and the server's raster paint the same draw list to the same bytes.
test('12 frames of 6 rows: browser and server paint the same bytes', async ({ page }) => {
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

  const { template, files } = await openPackage('demo/templates/speaker')
  const inBrowser = await page.evaluate(([t, r, f]) => window.paintedHashes(t, r, f), [template, rows, frames] as [
    Template,
    Values[],
    number[],
  ])

  const scene = new Scene(template, await loadAssets(template, (entry: { file: string }) => files[entry.file]!))
  const raster = new Raster()
  const full = { x: 0, y: 0, width: template.frame.width, height: template.frame.height }
  const onServer = rows.flatMap((values) =>
    frames.map((frame) =>
      createHash('sha256')
        .update(raster.draw(scene.frame(scene.settle(values), scene.timing(), frame), full))
        .digest('hex'),
    ),
  )
  const differing = onServer.flatMap((hash, i) =>
    hash === inBrowser[i] ? [] : [`row ${Math.floor(i / frames.length)} frame ${frames[i % frames.length]}`],
  )
  expect(differing).toEqual([])
  expect(new Set(onServer).size).toBeGreaterThan(50)
})
