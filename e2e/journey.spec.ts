import { readFileSync } from 'node:fs'
import { unzipSync } from 'fflate'
import { PNG } from 'pngjs'
import { Hand } from './hand.ts'
import { choose, complaints, edgeValue, editorsForm, expose, openDraft, ownTemplate, paste, saved } from './pages.ts'
import { expect, test } from './test.ts'

test('from the Shelf to a zip of finished titles', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)

  // Shelf: the template with its poster.
  await page.goto('/')
  await page.getByRole('searchbox').fill('speaker copy')
  await page.locator(`a[href="/t/${id}/draft"]`).first().click()
  await expect(page).toHaveURL(new RegExp(`/t/${id}/draft`))

  // Draft: a tie. The plate's right edge stands 46 px off the texts; 60 makes it 14 px wider.
  await choose(page, 'Plate')
  const before = await edgeValue(page, 'width', 'Plate')
  await page.getByRole('button', { name: 'right of Plate', exact: true }).click()
  await page.getByLabel('Gap, px').fill('60')
  await page.getByLabel('Gap, px').press('Enter')
  await expect.poll(() => edgeValue(page, 'width', 'Plate')).toBeCloseTo(before + 14, 1)
  await expect(page.getByText('+ 60').first()).toBeVisible()

  // An entrance.
  await choose(page, 'Role')
  await new Hand(page).move('Word by word')
  await page.getByRole('tab', { name: 'Motion' }).click()
  await expect(page.getByText('One after another')).toBeVisible()
  await saved(page)

  // Hand-off: a field, renamed, and one more exposed.
  await page.getByRole('link', { name: 'Hand-off' }).click()
  await editorsForm(page).getByRole('button', { name: 'Role', exact: true }).click()
  await page.getByLabel('Note', { exact: true }).fill('What they do, in five words.')
  await expose(page, 'Shown', 'Role')
  await page.getByRole('main').getByLabel('Name', { exact: true }).fill('Show the role')
  await saved(page)
  await page.getByRole('button', { name: 'Publish version 1' }).click()
  await page.getByLabel('What is new').fill('Wider plate')
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByText('Version 1 is published.').first()).toBeVisible()

  // Fill: the sheet.
  await page.getByRole('link', { name: 'Fill', exact: true }).click()
  await page.getByLabel('Data file').setInputFiles('demo/data/speakers.csv')
  await page.getByRole('button', { name: 'Bring in 40 rows' }).click()
  await expect(page).toHaveURL(/\/fill\/\d+$/)
  await expect(page.getByText('of 40 rows, version 1')).toBeVisible()
  await expect(page.getByText('5 stop')).toBeVisible()
  await expect(page.getByText('Columns: 3 of 4 matched')).toBeVisible()
  // A flagged row from the contact sheet, put right in its form.
  await page.getByRole('button', { name: 'Row 38, stop' }).click()
  await expect(
    page.getByLabel('Row 38', { exact: true }).getByText('The picture "pilot.png" is not among'),
  ).toBeVisible()
  await page.getByLabel('Mark of row 38').selectOption('lamp.png')
  await expect(page.getByText('4 stop')).toBeVisible()
  // Typing into the grid.
  await page.getByRole('button', { name: 'Row 26, stop' }).click()
  await page.getByLabel('Name of row 26').fill('Volunteer Vega')
  await expect(page.getByText('3 stop')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible()

  // Outputs.
  await page.getByRole('button', { name: /^Render \d+ rows$/ }).click()
  await page.getByRole('radio', { name: 'PNG sequence alpha' }).click()
  await page.getByLabel('Frames each').fill('40')
  await page.getByLabel('Frames each').press('Enter')
  await page.getByRole('button', { name: /^Render \d+ rows$/ }).click()
  await expect(page).toHaveURL(/\/outputs\/\d+$/)
  await expect(page.getByRole('progressbar')).toBeVisible()
  await expect(page.getByText(/^40 of 40:/)).toBeVisible({ timeout: 100_000 })
  await expect(page.getByText('held by their checks')).toBeVisible()
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: /^Download \d+ as zip$/ }).click()
  const zip = unzipSync(new Uint8Array(readFileSync(await (await download).path())))
  const frame = zip['003_Ngọc_Ánh_Đặng/003_Ngọc_Ánh_Đặng_0025.png']!
  const png = PNG.sync.read(Buffer.from(frame))
  expect([png.width, png.height, png.data[3]]).toEqual([1920, 1080, 0])
  // Forty frames a title, and the manifest in two forms.
  expect(Object.keys(zip).length % 40).toBe(2)
  expect(wrong).toEqual([])
})

test('rows pasted from a spreadsheet, and wrong files, each with one sentence', async ({ page }) => {
  const id = await ownTemplate(page)
  await page.request.post(`/api/templates/${id}/versions`, { data: {} })
  await page.goto(`/t/${id}/fill`)
  await expect(page.getByText('Drop a sheet here')).toBeVisible()
  for (const [name, bytes, message] of [
    ['empty.csv', '', '"empty.csv" is empty'],
    ['head.csv', 'name,role\n', 'no rows'],
    ['twice.csv', 'name,name\na,b\n', 'two columns called "name"'],
  ] as const) {
    await page.getByLabel('Data file').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(bytes) })
    await expect(page.getByRole('alert').filter({ hasText: message })).toBeVisible()
    await expect(page.getByRole('button', { name: /^Bring in/ })).toBeDisabled()
    await page.getByRole('button', { name: 'Cancel' }).click()
  }
  await paste(page, 'Name\tRole\nIo Marrec\tPilot\nTam\t\n')
  await expect(page.getByText('of 2 rows, version 1')).toBeVisible()
  await expect(page.getByText('2 fine')).toBeVisible()
  // A sheet that is not this template's says so before it is used.
  await page.goto(`/t/${id}/fill`)
  await page
    .getByLabel('Data file')
    .setInputFiles({ name: 'tides.csv', mimeType: 'text/csv', buffer: Buffer.from('station,height\nNorth,3.2\n') })
  await expect(page.getByText('is this the right sheet?')).toBeVisible()
})

test('the keyboard alone: choose, move, undo, publish', async ({ page }) => {
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await choose(page, 'Mount')
  const left = await edgeValue(page, 'left', 'Mount')
  await page.keyboard.press('Alt+ArrowRight')
  await page.keyboard.press('Alt+Shift+ArrowRight')
  await expect.poll(() => edgeValue(page, 'left', 'Mount')).toBe(left + 11)
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect.poll(() => edgeValue(page, 'left', 'Mount')).toBe(left)
  await page.keyboard.press('Control+Shift+z')
  await expect.poll(() => edgeValue(page, 'left', 'Mount')).toBe(left + 1)
  await saved(page)
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Shortcuts' })).toBeVisible()
})
