import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromiumLaunch } from './chromium.mjs'
import { installPackages, installPrograms, root, run } from './setup.mjs'

// The pictures of the README, from the demo data.
installPackages()
installPrograms(['chromium-headless-shell'])
run('node', ['scripts/build.mjs'])
const { chromium } = await import('@playwright/test')
const data = mkdtempSync(join(tmpdir(), 'hoja-pictures-'))
const port = 4166
const server = spawn('node', [...[`${root}/server/dist/app/cli.js`, 'serve', '--port', String(port), '--data', data]], {
  stdio: 'ignore',
})
const base = `http://127.0.0.1:${port}`
const folder = `${root}/docs/screenshots`
mkdirSync(folder, { recursive: true })
const up = async () => {
  for (;;)
    try {
      if ((await fetch(`${base}/api/templates`)).ok) return
      throw new Error('just starting')
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
  await page.getByRole('heading', { name: 'Templates' }).waitFor()
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

  // The words themselves.
  await part('Name').click()
  await part('Role').click()
  await page.getByTestId('frame').click({ position: { x: 2, y: 2 } })
  await part('Role').click()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('Write in the text')
  await page.keyboard.press('Enter')
  await page.getByRole('textbox', { name: 'The words of Role' }).waitFor()
  await page.keyboard.press('Home')
  await page.keyboard.press('Shift+Control+ArrowRight')
  await take('writing')
  await page.keyboard.press('Escape')

  await part('Name').click()
  const time = page.getByRole('region', { name: 'Time' })
  await time.getByRole('button', { name: 'Open the channels of Name' }).click()
  await time.getByRole('button', { name: 'Keys of Name at in 6', exact: true }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('tab', { name: 'Easing' }).click()
  await page.getByRole('radio', { name: 'speed' }).click()
  await page.mouse.move(640, 250)
  await take('draft-easing')

  // A drawing that nobody has tied yet.
  await page.goto(base)
  await page.getByRole('button', { name: 'New template' }).click()
  await page.keyboard.type('Name and role')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: /^A name and a role/ }).click()
  await page.getByText(/^Box 1 stands around/).hover()
  await take('tie-as-drawn')
  await page.keyboard.press('Escape')

  // What runs, and what comes in turn.
  await page.goto(`${base}/t/credits/draft`)
  await page.getByTestId('frame').waitFor()
  await part('Roll').click()
  await page.getByRole('tab', { name: 'Style' }).click()
  await page.mouse.move(640, 250)
  await take('roll')
  await page.goto(`${base}/t/agenda/draft`)
  await page.getByTestId('frame').waitFor()
  await part('Entry').click()
  await page.getByRole('tab', { name: 'Style' }).click()
  await page.mouse.move(640, 250)
  await take('in-turn')

  // One design upright, in a palette of another name.
  await page.goto(`${base}/t/score/draft`)
  await page.getByTestId('frame').waitFor()
  await page.getByRole('button', { name: '+ Palette' }).click()
  await page.getByRole('dialog').getByLabel('Name').fill('Harbour')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Palette colour Sponsor' }).click()
  await page.getByLabel('Colour as #rrggbb').fill('#b8e0d8')
  await page.getByLabel('Colour as #rrggbb').press('Enter')
  await page.keyboard.press('Escape')
  await page.getByRole('radio', { name: '9:16' }).click()
  await page.getByRole('button', { name: /otherwise than in/ }).click()
  await take('shapes')
  await page.keyboard.press('Escape')

  // A hand-off of every flavour, on a copy, so that the demo stays as it ships.
  const send = (method, path, body) =>
    page.request
      .fetch(`${base}/api${path}`, { method, ...(body ? { data: body } : {}) })
      .then((answer) => answer.json())
  const copy = await send('POST', '/templates/speaker/duplicate')
  await send('PATCH', `/templates/${copy.id}`, { name: 'Speaker, evening' })
  await send('POST', `/templates/${copy.id}/versions`, { note: 'As it ships.' })
  await page.goto(`${base}/t/${copy.id}/handoff`)
  const form = page.getByRole('complementary', { name: "The editor's form" })
  const editor = page.getByRole('main')
  await form.getByRole('button', { name: 'Role', exact: true }).click()
  await form.getByRole('button', { name: '+ Choice' }).click()
  await editor.getByLabel('Name', { exact: true }).fill('Evening')
  await editor.getByLabel('Name of the option first').fill('Day')
  await editor.getByLabel('Name of the option second').fill('Night')
  const setting = async (part, property) => {
    await editor.getByLabel('Part that the options set something of').selectOption(part)
    await editor.getByLabel(`Property of ${part} that the options set`).selectOption(property)
  }
  await setting('Name', 'Colour')
  await editor.getByLabel('Name: Colour, Night, from the palette').selectOption('Lamp amber')
  await page.getByRole('button', { name: 'More of Name', exact: true }).click()
  await page.getByRole('button', { name: 'Expose Size of Name', exact: true }).click()
  await form.getByRole('button', { name: 'Evening', exact: true }).click()
  await form.getByRole('button', { name: '+ Comment' }).click()
  await form.getByRole('textbox', { name: 'Comment' }).fill('By the time of day, not by taste.')
  await form.getByRole('radio', { name: 'Night' }).click()
  await page.getByRole('button', { name: 'Fewer of Name', exact: true }).click()
  await take('handoff')

  await page.goto(`${base}/t/${copy.id}/draft`)
  await page.getByTestId('frame').waitFor()
  await part('Plate').click()
  await page.getByRole('button', { name: 'right of Plate', exact: true }).click()
  await page.getByLabel('Gap, px').fill('72')
  await page.getByLabel('Gap, px').press('Enter')
  await page.getByRole('button', { name: 'Publish version 2' }).click()
  await page.getByText(/proofs change/).waitFor({ timeout: 60_000 })
  await take('version-difference')

  await page.goto(`${base}/t/speaker/fill/1`)
  await page.getByText('22 fine').waitFor()
  await page.getByRole('button', { name: 'Row 2, look' }).click()
  await take('fill')

  // A show, with what was brought in for it.
  await page.goto(base)
  await page.getByRole('button', { name: '+ New', exact: true }).click()
  await page.getByRole('textbox', { name: 'Name' }).fill('Estuary Week, day one')
  await page.keyboard.press('Enter')
  await page.getByText('No sheets yet').waitFor()
  for (const [file, press] of [
    ['estuary-week.xlsx', 'Bring in 18 rows as 5 sheets'],
    ['speakers.csv', 'Bring in 40 rows as 1 sheet'],
  ]) {
    await page.getByLabel('Data file').setInputFiles(`${root}/demo/data/${file}`)
    await page.getByRole('button', { name: press }).click()
    await page.getByRole('dialog').waitFor({ state: 'detached' })
  }
  await page.getByText('looking …').first().waitFor({ state: 'detached' })
  await page.locator('[data-sonner-toast]').first().waitFor({ state: 'detached' })
  await take('production')

  await page.goto(`${base}/t/speaker/fill`)
  await page.getByLabel('Data file').setInputFiles({
    name: 'thursday.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'Estuary Week, Thursday;;\n\nGuest;Job title;Logo;Call\nIo Marrec;Harbour pilot;heron.png;9:40\nAda Brzeg;Salt-marsh ecologist;otter.svg;10:15\n',
    ),
  })
  await page.getByText('Guest').first().waitFor()
  await take('import')

  await page.goto(`${base}/t/speaker/fill/1`)
  await page.getByText('22 fine').waitFor()

  await page.getByRole('button', { name: /^Render \d+ rows$/ }).click()
  await page.getByRole('img', { name: 'The first title as it will be' }).waitFor()
  await take('new-output')
  await page.getByRole('radio', { name: 'PNG sequence alpha' }).click()
  await page.getByRole('button', { name: /^Render \d+ rows$/ }).click()
  await page.getByText(/^[1-3]\d of 40:/).waitFor({ timeout: 60_000 })
  await page.getByRole('button', { name: /^004_/ }).click()
  await take('outputs')

  // The demo's programme, with a title that was trimmed; then a list that comes in.
  await page.goto(base)
  await page.getByRole('link', { name: /^Estuary Week \d*$/ }).click()
  await page.getByRole('link', { name: 'Thursday evening' }).click()
  await page.getByText(/^\d+ look$/).waitFor()
  const clip = await page.getByRole('button', { name: /^Maren Oduya-Castellví, 10:00:22/ }).boundingBox()
  await page.mouse.click(clip.x + clip.width / 2, clip.y + clip.height / 2)
  await page.mouse.move(clip.x + clip.width - 2, clip.y + clip.height / 2)
  await page.mouse.down()
  await page.mouse.move(clip.x + clip.width - 14, clip.y + clip.height / 2, { steps: 4 })
  await page.mouse.up()
  await page.keyboard.press('PageDown')
  await page.keyboard.press('PageUp')
  await page.keyboard.press('Enter')
  await page.mouse.move(640, 700)
  await take('programme')
  await page.keyboard.press('Escape')
  await page.getByLabel('List of titles').setInputFiles({
    name: 'evening.srt',
    mimeType: 'application/x-subrip',
    buffer: Buffer.from(
      [
        ['00:00:44,000', '00:00:49,000', 'Håkan Sjö'],
        ['00:01:25,000', '00:01:25,800', 'Wilhelmina Fotheringay'],
        ['00:01:32,000', '00:01:36,000', 'Nguyễn Thị Hanh'],
        ['00:01:42,000', '00:01:47,000', 'Io Marrec'],
      ]
        .map(([from, to, text], i) => `${i + 1}\n${from} --> ${to}\n${text}\n`)
        .join('\n'),
    ),
  })
  await page.getByLabel('Template', { exact: true }).selectOption({ label: 'Speaker' })
  await page.getByRole('region', { name: 'What comes of it' }).scrollIntoViewIfNeeded()
  await take('programme-list')

  // On air: one is up, another is next; then the same page over footage in a mixer, on its way to the next one's size.
  const output = await browser.newPage()
  await output.goto(`${base}/out/lower-third`)
  await page.bringToFront()
  await page.goto(`${base}/air/lower-third`)
  await page.getByRole('complementary', { name: 'Running list' }).getByText('fine').first().waitFor()
  await page.keyboard.press('Enter')
  await page.getByRole('status', { name: 'Where it stands' }).getByText(/holds/).waitFor()
  await page.keyboard.press('Enter')
  await page.getByRole('status', { name: 'Where it stands' }).getByText(/holds/).waitFor()
  await page
    .getByRole('region', { name: 'What may change while it is up' })
    .getByLabel('Role')
    .fill('Oyster grower, Vado Bridge')
  await page.mouse.move(640, 760)
  await take('air')
  await page.keyboard.press('Escape')
  await page.goto(`${base}/mixer/lower-third`)
  await page.getByLabel('Corner').check()
  const corner = (what, body) =>
    fetch(`${base}/api/air/corner/${what}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    })
  await corner('take', {})
  await corner('cue', { place: 1 })
  await page.frameLocator('iframe').first().locator('canvas').waitFor()
  await page.waitForTimeout(4000)
  await take('air-mixer')
  await browser.close()
} finally {
  server.kill()
  rmSync(data, { recursive: true, force: true })
}
