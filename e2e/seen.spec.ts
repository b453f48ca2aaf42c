import type { Template } from '@hoja/core/template'
import { zipSync } from 'fflate'
import { PNG } from 'pngjs'
import { complaints, openDraft, ownTemplate, proofSays, saved } from './pages.ts'
import { expect, type Page, test } from './test.ts'

/** From a place of a frame of 1920 x 1080 to the screen. */
async function onFrame(page: Page) {
  const frame = (await page.getByTestId('frame').boundingBox())!
  return (x: number, y: number): [number, number] => [
    frame.x + (x * frame.width) / 1920,
    frame.y + (y * frame.height) / 1080,
  ]
}

/** A template of a name, with an empty frame; from its places to the screen. */
async function newTemplate(page: Page, name: string) {
  await page.goto('/')
  await page.getByRole('button', { name: 'New template' }).click()
  await page.keyboard.type(name)
  await page.keyboard.press('Enter')
  return onFrame(page)
}

async function drag(page: Page, from: [number, number], to: [number, number]) {
  await page.mouse.move(...from)
  await page.mouse.down()
  await page.mouse.move(...to, { steps: 5 })
  await page.mouse.up()
}

/** Names of the parts, the uppermost first, as the list has them. */
const listed = (page: Page) =>
  page
    .getByRole('complementary', { name: 'Parts' })
    .getByRole('listitem')
    .getByRole('button', { pressed: undefined })
    .evaluateAll((buttons) =>
      buttons.flatMap((button) => (/^\d+\D/.test(button.textContent ?? '') ? [button.textContent] : [])),
    )

/** Which part is chosen, by the list. */
const chosen = (page: Page) =>
  page
    .getByRole('complementary', { name: 'Parts' })
    .getByRole('listitem')
    .getByRole('button', { pressed: true })
    .first()

test('a newcomer writes, draws a box around it and ties it: the box goes behind the words, and they are seen', async ({
  page,
}) => {
  const wrong = complaints(page)
  const at = await newTemplate(page, 'In the order that the empty frame says')
  for (const [y, words] of [
    [860, 'Name'],
    [930, 'Role'],
  ] as const) {
    await page.keyboard.press('t')
    await page.mouse.click(...at(140, y))
    await page.keyboard.type(words)
    await page.keyboard.press('Escape')
  }
  await page.keyboard.press('b')
  await drag(page, at(96, 800), at(560, 1000))
  // It says what it did, and how to have it otherwise.
  await expect(page.getByText(/It went behind Text 1 and Text 2; Shift Page Up puts it in front/)).toBeVisible()
  await page.keyboard.press('y')
  await page.keyboard.press('Enter')
  await saved(page)
  await expect(page.getByText('1 shortest')).toBeVisible()
  await proofSays(page, 'shortest', /fine/)

  // In front it hides them, and every proof says so; it goes back by a key, as one step of undo.
  await page.mouse.click(...at(110, 985))
  await page.keyboard.press('Shift+PageUp')
  await proofSays(page, 'longest', /stop/)
  await page.keyboard.press('Control+z')
  await proofSays(page, 'shortest', /fine/)
  await page.keyboard.press('Control+Shift+z')
  await proofSays(page, 'shortest', /stop/)
  await page.keyboard.press('q')
  await proofSays(page, 'shortest', /fine/)
  expect(wrong).toEqual([])
})

test('what another part covers is reached by a second click at the same place, and from a menu of what lies there', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  const at = await onFrame(page)
  const before = await listed(page)
  // The plate over all of it.
  await page.getByRole('complementary', { name: 'Parts' }).getByText('Plate', { exact: true }).click()
  await page.keyboard.press('Shift+PageUp')
  await proofSays(page, 'longest', /stop/)
  const place = at(420, 915)
  await page.mouse.click(...place)
  await expect(chosen(page)).toContainText('Plate')
  await page.mouse.click(...place)
  await expect(chosen(page)).toContainText('Name')
  await page.mouse.click(...place, { button: 'right' })
  await expect(page.getByText('What lies here')).toBeVisible()
  await page.getByRole('menuitem', { name: 'Plate', exact: true }).click()
  await expect(chosen(page)).toContainText('Plate')
  // From the menu it goes behind what it stands around, and stands as it did.
  await page.mouse.click(...place, { button: 'right' })
  await page.getByRole('menuitem', { name: 'Behind what it stands around' }).click()
  await expect(page.getByRole('complementary', { name: 'Proofs' })).not.toContainText('stop')
  await page.keyboard.press('Shift+PageDown')
  await expect.poll(() => listed(page)).toEqual(before)
  expect(wrong).toEqual([])
})

test('a sheet says fine of what was looked at, and checked until then; what is hidden in a row stops it', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  const version = await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()
  const table = [['name', 'role'], ...Array.from({ length: 400 }, (_, i) => [`Person ${i} of the river`, `Role ${i}`])]
  const sheet = await (
    await page.request.post('/api/sheets', { data: { version: version.id, name: 'Many', table } })
  ).json()
  await page.goto(`/t/${id}/fill/${sheet.id}`)
  const line = page.getByRole('status').filter({ hasText: 'of 400 rows' })
  await expect(line.getByRole('button', { name: '400 fine' })).toBeVisible({ timeout: 30_000 })
  await expect(line).not.toContainText('looked at so far')
  await expect(line).not.toContainText('checked')
  expect(wrong).toEqual([])
})

test('a picture that is brought over words goes behind them', async ({ page }) => {
  const wrong = complaints(page)
  const at = await newTemplate(page, 'Words, then a picture')
  await page.keyboard.press('t')
  await page.mouse.click(...at(300, 300))
  await page.keyboard.type('Name')
  await page.keyboard.press('Escape')
  const picture = new PNG({ width: 800, height: 400 })
  picture.data.fill(255)
  await page.getByRole('button', { name: 'Add a picture or artwork' }).click()
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('menuitem', { name: /^from a file/ }).click(),
  ])
  await chooser.setFiles({ name: 'sail.png', mimeType: 'image/png', buffer: PNG.sync.write(picture) })
  await expect(page.getByText(/It went behind Text 1; Shift Page Up puts it in front/)).toBeVisible()
  expect(await listed(page)).toEqual(['1Text 1', '2Picture 1'])
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await listed(page)).length).toBe(1)
  expect(wrong).toEqual([])
})

test('a title of a programme is looked at over the movie that lies under it', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  const { revision, template } = await (await page.request.get(`/api/templates/${id}`)).json()
  // White words, of whose surfaces nothing is seen.
  const parts = (template as Template).parts.flatMap((part) => [part, ...(part.parts ?? [])])
  for (const part of parts) {
    if (part.kind === 'picture') part.unseen = 'This one has no mark.'
    else if (part.kind !== 'group')
      Object.assign(part.style, part.kind === 'text' ? { colour: '#ffffff' } : { opacity: 0 })
  }
  for (const field of template.fields) field.required = false
  const put = { data: { revision, template: { ...template, name: 'White words' } } }
  expect((await page.request.put(`/api/templates/${id}`, put)).ok()).toBe(true)
  expect((await page.request.post(`/api/templates/${id}/versions`, { data: {} })).ok()).toBe(true)
  const data = { name: 'Over white', width: 1920, height: 1080, rate: '25', start: '10:00:00:00' }
  const made = (await (await page.request.post('/api/programmes', { data })).json()) as { id: number }
  await page.goto(`/programmes/${made.id}`)
  const white = new PNG({ width: 64, height: 36 })
  white.data.fill(255)
  const frame = new Uint8Array(PNG.sync.write(white))
  const frames = Object.fromEntries(Array.from({ length: 200 }, (_, i) => [`white_${i}.png`, frame]))
  await page.getByLabel('Footage', { exact: true }).setInputFiles({
    name: 'white.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from(zipSync(frames, { level: 0 })),
  })
  await expect(page.getByText('of 10:00:08:00')).toBeVisible({ timeout: 30_000 })
  await page.getByRole('button', { name: 'Other templates' }).click()
  await page.getByRole('menuitem', { name: 'White words', exact: true }).click()
  const title = page.getByRole('list', { name: 'Titles' }).getByRole('listitem')
  await expect(title).toContainText('the footage under it are the same colour', { timeout: 30_000 })
  // Where nothing lies under it, it is white over whatever comes.
  await page.getByRole('button', { name: 'Footage is on' }).click()
  await expect(title).not.toContainText('the same colour')
  expect(wrong).toEqual([])
})
