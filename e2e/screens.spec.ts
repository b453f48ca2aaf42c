import { readFileSync } from 'node:fs'
import { unzipSync } from 'fflate'
import { choose, complaints, edgeValue, openDraft, ownTemplate, saved } from './pages.ts'
import { expect, test } from './test.ts'

test('the style of a part: every control writes its property, and the frame follows', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await choose(page, 'Name')
  const width = await edgeValue(page, 'width', 'Name')
  await page.getByRole('tab', { name: 'Style' }).click()
  await page.getByLabel('Size', { exact: true }).fill('39')
  await page.getByLabel('Size', { exact: true }).press('Enter')
  await page.getByLabel('Case').selectOption('upper')
  await page.getByLabel('Shows others').selectOption('cap')
  await page.getByRole('tab', { name: /^Edges/ }).click()
  await expect.poll(() => edgeValue(page, 'width', 'Name')).toBeLessThan(width * 0.8)

  await choose(page, 'Plate')
  await page.getByRole('tab', { name: 'Style' }).click()
  await page.getByLabel('Fill', { exact: true }).selectOption('flat')
  await page.getByLabel('Top left radius').fill('12')
  await page.getByLabel('Top left radius').press('Enter')
  await page.getByRole('button', { name: 'Remove shadow 1' }).click()
  await saved(page)
  const { template } = (await (await page.request.get(`/api/templates/${id}`)).json()) as {
    template: { parts: { id: string; style: object }[] }
  }
  expect(template.parts.find((p) => p.id === 'plate')!.style).toMatchObject({
    radiusTopLeft: 12,
    shadows: [],
    fill: 'palette:night',
  })
  expect(wrong).toEqual([])
})

test('sizes, rooms, fit steps and mattes are edited; what they do shows at once', async ({ page }) => {
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await choose(page, 'Mount')
  await page.getByRole('button', { name: 'width of Mount', exact: true }).click()
  await page.getByLabel('px', { exact: true }).fill('100')
  await page.getByLabel('px', { exact: true }).press('Enter')
  await expect.poll(() => edgeValue(page, 'width', 'Mount')).toBe(100)
  await choose(page, 'Name')
  await page.getByLabel('Room').selectOption('width')
  await page.getByLabel('px', { exact: true }).fill('300')
  await page.getByLabel('px', { exact: true }).press('Enter')
  await expect.poll(() => edgeValue(page, 'width', 'Name')).toBeLessThan(500)
  await expect(page.getByText(/stop: past its room/).first()).toBeVisible()
  await page.getByRole('tab', { name: 'Style' }).click()
  await page.getByLabel('Fit').selectOption({ label: 'wrap' })
  await page.getByRole('button', { name: 'Earlier' }).last().click()
  // A text that fills its room takes a share of it, as small or large as it may become for that.
  await page.getByLabel('Fit').selectOption({ label: 'fill' })
  for (const [name, value] of [
    ['At least so many per cent of its size', '20'],
    ['The share of its room that it takes, %', '80'],
  ] as const) {
    const input = page.getByRole('textbox', { name })
    await input.fill(value)
    await input.press('Enter')
  }
  await page.getByRole('combobox', { name: 'Lines', exact: true }).selectOption('balanced')
  await page.getByRole('tab', { name: 'Edges' }).click()
  await expect.poll(async () => Math.round(await edgeValue(page, 'width', 'Name'))).toBe(240)
  await choose(page, 'Mark')
  await page.getByRole('tab', { name: 'Matte' }).click()
  await page.getByLabel('Inverted').check()
  await saved(page)
  await page.getByLabel('Cut to').selectOption('')
  await expect(page.getByText('A matte is a part like any other')).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByLabel('Inverted')).toBeChecked()
})

test('a template goes out as a package and comes in again; a broken one is refused', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto('/')
  await expect(page.getByRole('link', { name: /^Open / }).first()).toBeVisible()
  const before = await page.getByRole('link', { name: /^Open / }).count()
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'More for Speaker', exact: true }).first().click()
  await page.getByRole('menuitem', { name: 'Export as .hoja' }).click()
  const bytes = readFileSync(await (await download).path())
  expect(Object.keys(unzipSync(new Uint8Array(bytes)))).toContain('template.json')
  await page
    .getByLabel('Template package')
    .setInputFiles({ name: 'speaker.hoja', mimeType: 'application/zip', buffer: bytes })
  await expect(page.getByText('"Speaker" is on the shelf.')).toBeVisible()
  await page.getByRole('button', { name: 'Close', exact: true }).click()
  await expect(page.getByRole('link', { name: /^Open / })).toHaveCount(before + 1)
  await page
    .getByLabel('Template package')
    .setInputFiles({ name: 'broken.hoja', mimeType: 'application/zip', buffer: bytes.subarray(0, 5000) })
  await expect(page.getByText('"broken.hoja" is a damaged package')).toBeVisible()
  await expect(page.getByRole('dialog', { name: '0 of 1 taken in' })).toBeVisible()
  await page.getByRole('button', { name: 'Close', exact: true }).click()
  await page.getByRole('searchbox').fill('nothing like it')
  await expect(page.getByText('Nothing is called "nothing like it"')).toBeVisible()
  expect(wrong).toEqual([])
})

test('fonts and pictures are added to a template, and what is neither is refused', async ({ page }) => {
  await openDraft(page, await ownTemplate(page))
  const picker = page.getByLabel('Add fonts, pictures and sounds')
  await picker.setInputFiles('demo/templates/speaker/media/eel.png')
  await expect(page.getByText('eel.png travels with the template now.')).toBeVisible()
  await picker.setInputFiles({ name: 'fake.ttf', mimeType: 'font/ttf', buffer: Buffer.from('no font at all') })
  await expect(page.getByText('"fake.ttf" is not a TrueType or OpenType font')).toBeVisible()
  // A font that it carries already is not carried twice.
  await picker.setInputFiles('demo/templates/speaker/fonts/BarlowCondensed_500Medium.ttf')
  await expect(page.getByText('5 fonts, 6 pictures')).toBeVisible()
  await page.getByRole('button', { name: '+ Font' }).click()
  await page.getByPlaceholder('Search families and styles').fill('plex serif italic')
  await page.getByRole('option', { name: 'IBM Plex Serif Italic' }).click()
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText('6 fonts, 6 pictures')).toBeVisible()
})

test('an output is stopped and tried again', async ({ page }) => {
  const id = await ownTemplate(page)
  const version = (await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()) as {
    id: number
  }
  const table = [['name', 'role'], ...Array.from({ length: 24 }, (_, i) => [`Nobody ${i} ${id}`, 'Rope'])]
  const sheet = (await (
    await page.request.post('/api/sheets', { data: { version: version.id, name: 'Stop me', table } })
  ).json()) as { id: number }
  await page.request.post('/api/outputs', { data: { sheet: sheet.id, format: 'png' } })
  await page.goto(`/t/${id}/outputs`)
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByRole('button', { name: /^Try \d+ again$/ })).toBeVisible()
  await expect(page.getByText('stopped').first()).toBeVisible()
  await page.getByRole('button', { name: /^Try \d+ again$/ }).click()
  await expect(page.getByText(/^24 of 24: 24 done/)).toBeVisible({ timeout: 90_000 })
  await page.getByRole('button', { name: /^001_Nobody/ }).click()
  await expect(page.getByRole('img', { name: /^Frame 62 of 001_Nobody/ })).toBeVisible()
})

test('a number takes sums, and is dragged by its label as one step; Escape puts it back', async ({ page }) => {
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Name')
  await page.getByRole('tab', { name: 'Style' }).click()
  const size = page.getByLabel('Size', { exact: true })
  await expect(size).toHaveValue('78')
  for (const [typed, value] of [
    ['+10', '88'],
    ['/2', '44'],
    ['2*(20+19)', '78'],
    ['1/0', '78'],
  ] as const) {
    await size.fill(typed)
    await size.press('Enter')
    await expect(size).toHaveValue(value)
  }
  const label = (await page.getByText('Size', { exact: true }).boundingBox())!
  const [x, y] = [label.x + 8, label.y + label.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 30, y, { steps: 5 })
  await expect(size).toHaveValue('88')
  await page.keyboard.press('Escape')
  await expect(size).toHaveValue('78')
  await page.mouse.up()
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.keyboard.down('Shift')
  await page.mouse.move(x + 30, y, { steps: 5 })
  await page.keyboard.up('Shift')
  await page.mouse.up()
  await expect(size).toHaveValue('178')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(size).toHaveValue('78')
})
