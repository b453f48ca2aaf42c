import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromiumLaunch } from './chromium.mjs'
import { installPackages, installPrograms, root, run } from './setup.mjs'

// The pictures of the README, from the demo data.
installPackages()
installPrograms(['chromium'])
run('node', ['scripts/build.mjs'])
const { chromium } = await import('@playwright/test')
const data = mkdtempSync(join(tmpdir(), 'hoja-pictures-'))
const port = 4166
const server = spawn('node', [`${root}/server/dist/cli.js`, 'serve', '--port', String(port), '--data', data], {
  stdio: 'ignore',
})
const base = `http://127.0.0.1:${port}`
const folder = `${root}/docs/screenshots`
mkdirSync(folder, { recursive: true })
const up = async () => {
  for (;;)
    try {
      return await fetch(`${base}/api/templates`)
    } catch {
      await new Promise((done) => setTimeout(done, 200))
    }
}
try {
  await up()
  const browser = await chromium.launch(chromiumLaunch)
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  const take = async (name) => {
    await page.waitForTimeout(1200)
    await page.screenshot({ path: `${folder}/${name}.png` })
  }
  await page.goto(base)
  await page.getByText('Templates').waitFor()
  await page.waitForLoadState('networkidle')
  await take('shelf')

  const part = (name) =>
    page
      .getByRole('listitem')
      .filter({ hasText: new RegExp(`^\\d+${name}`) })
      .getByRole('button')
      .first()
  await page.goto(`${base}/t/speaker/draft`)
  await page.getByTestId('frame').waitFor()
  await part('Plate').click()
  await page.getByRole('button', { name: 'right of Plate', exact: true }).click()
  await page.mouse.move(640, 250)
  await take('draft')

  await part('Name').click()
  const time = page.getByRole('region', { name: 'Time' })
  await time.getByRole('button', { name: 'Open the channels of Name' }).click()
  await time.getByRole('button', { name: 'Keys of Name at in 6', exact: true }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('tab', { name: 'Easing' }).click()
  await page.getByRole('radio', { name: 'speed' }).click()
  await page.mouse.move(640, 250)
  await take('draft-easing')

  await page.goto(`${base}/t/talk/draft`)
  await page.getByTestId('frame').waitFor()
  await part('Title').click()
  await page.getByRole('tab', { name: 'Moves' }).click()
  await page.mouse.move(640, 250)
  await take('draft-moves')

  await page.goto(`${base}/t/tide/draft`)
  await page.getByTestId('frame').waitFor()
  await part('Wave').click()
  await page.keyboard.press('r')
  await page.keyboard.press('2')
  await page.getByRole('button', { name: 'Edit the points of a path' }).click()
  await page.getByRole('button', { name: /^Point 2 of Wave/ }).click()
  await page.getByRole('tab', { name: 'Look' }).click()
  await page.mouse.move(640, 450)
  await take('draft-path')

  await page.goto(`${base}/t/speaker/handoff`)
  await page.getByRole('button', { name: 'Role', exact: true }).click()
  await take('handoff')

  await page.goto(`${base}/t/speaker/fill/1`)
  await page.getByText('31 fine').waitFor()
  await page.getByRole('button', { name: 'Row 2, look' }).click()
  await take('fill')

  await page.getByRole('button', { name: /^Render \d+ rows$/ }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Render \d+ rows$/ })
    .click()
  await page.getByText(/^1\d of 40/).waitFor({ timeout: 60_000 })
  await page.getByRole('button', { name: /^004_/ }).click()
  await take('outputs')
  await browser.close()
} finally {
  server.kill()
  rmSync(data, { recursive: true, force: true })
}
