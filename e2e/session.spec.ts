import { choose, complaints, edgeValue, openDraft, ownTemplate, saved } from './pages.ts'
import { countRenders, rendered } from './renders.ts'
import { expect, type Page, test } from './test.ts'

/** A place on the frame, in shares of it, as the mouse goes there. */
async function placeOn(page: Page): Promise<(x: number, y: number) => [number, number]> {
  const frame = (await page.getByTestId('frame').boundingBox())!
  return (x, y) => [frame.x + frame.width * x, frame.y + frame.height * y]
}

const nextFrame = (page: Page) =>
  page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))))

/** A sheet of some names, of a template of its own. */
async function ownSheet(page: Page, names: string[]): Promise<string> {
  const id = await ownTemplate(page)
  const version = await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()
  const table = [['name', 'role'], ...names.map((name) => [name, 'Pilot'])]
  const sheet = await page.request.post('/api/sheets', { data: { version: version.id, name: 'Names', table } })
  return `/t/${id}/fill/${(await sheet.json()).id}`
}
const cell = (page: Page, text: string) =>
  page.getByTestId('grid').locator('.dsg-cell').filter({ hasText: text }).first()

async function typeOver(page: Page, was: string, text: string): Promise<void> {
  await cell(page, was).click()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
  await expect(cell(page, text)).toBeVisible()
}

test('a drag step renders the frame, the measures, the proofs in sight and the numbers that change; nothing else', async ({
  page,
}) => {
  await countRenders(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Mark')
  const at = await placeOn(page)
  await page.mouse.move(...at(0.1, 0.82))
  await page.mouse.down()
  await page.mouse.move(...at(0.11, 0.82))
  const left = () => edgeValue(page, 'left', 'Mark')
  const before = await left()
  await nextFrame(page)
  await rendered(page)
  const steps = 10
  for (let i = 1; i <= steps; i++) {
    await page.mouse.move(...at(0.11 + i * 0.01, 0.82))
    await nextFrame(page)
  }
  const { commits, components, places } = await rendered(page)
  expect(await left()).toBeGreaterThan(before)
  await page.mouse.up()
  expect(commits).toBeLessThanOrEqual(2 * steps)
  // 455 before screens told what they look at; the frame, its numbers and measures, and nine proofs are what is left.
  expect(components / steps).toBeLessThan(80)
  const strangers = Object.keys(places).filter(
    (place) =>
      !/^(the page|The drawing|Proofs|Time|The selected part|Open the channels of Mark|.* of Mark)/.test(place),
  )
  expect(strangers).toEqual([])
})

test('Escape puts a drag back, of a part, a gap and a guide; a drag may end outside the window', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Mark')
  const at = await placeOn(page)
  const undo = page.getByRole('button', { name: 'Undo', exact: true })
  const before = await edgeValue(page, 'left', 'Mark')
  await page.mouse.move(...at(0.1, 0.82))
  await page.mouse.down()
  await page.mouse.move(...at(0.2, 0.82), { steps: 4 })
  await expect.poll(() => edgeValue(page, 'left', 'Mark')).not.toBe(before)
  await page.keyboard.press('Escape')
  await expect.poll(() => edgeValue(page, 'left', 'Mark')).toBe(before)
  await page.mouse.move(...at(0.3, 0.82))
  await page.mouse.up()
  expect(await edgeValue(page, 'left', 'Mark')).toBe(before)
  await expect(undo).toBeDisabled()

  const gap = page.locator('[data-gap^="Gap at the left"]').first()
  const box = (await gap.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + 60, box.y + 5, { steps: 3 })
  await expect.poll(() => edgeValue(page, 'left', 'Mark')).not.toBe(before)
  await page.keyboard.press('Escape')
  await expect.poll(() => edgeValue(page, 'left', 'Mark')).toBe(before)
  await page.mouse.up()
  await expect(undo).toBeDisabled()

  // Let go far outside: it stays where the window ends, as one step.
  await page.mouse.move(...at(0.1, 0.82))
  await page.mouse.down()
  await page.mouse.move(...at(0.15, 0.82), { steps: 3 })
  await page.mouse.move(-50, 300, { steps: 3 })
  await page.mouse.up()
  await expect(undo).toBeEnabled()
  await undo.click()
  await expect.poll(() => edgeValue(page, 'left', 'Mark')).toBe(before)
  await expect(undo).toBeDisabled()
  expect(wrong).toEqual([])
})

test('undo reaches back past a reload of the page, in Draft and in Fill', async ({ page }) => {
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Plate')
  await page.getByRole('button', { name: 'Hide Plate' }).click()
  await saved(page)
  await page.reload()
  await expect(page.getByRole('button', { name: 'Show Plate' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Show Plate' })).toBeHidden()
  await saved(page)

  await page.goto(await ownSheet(page, ['Io Marrec', 'Tam']))
  await expect(page.getByText('2 fine')).toBeVisible()
  await typeOver(page, 'Tam', 'Xu')
  await expect(page.getByRole('status').filter({ hasText: /^saved/ })).toBeVisible()
  await page.reload()
  await expect(cell(page, 'Xu')).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(cell(page, 'Tam')).toBeVisible()
  await page.reload()
  await expect(cell(page, 'Tam')).toBeVisible()
})

test('two windows write the same rows: the person chooses, and what was not taken is one undo away', async ({
  page,
  context,
}) => {
  const sheet = await ownSheet(page, ['Io Marrec', 'Tam'])
  const other = await context.newPage()
  await page.goto(sheet)
  await other.goto(sheet)
  await expect(page.getByText('2 fine')).toBeVisible()
  await expect(other.getByText('2 fine')).toBeVisible()
  await typeOver(other, 'Tam', 'Theirs')
  await expect(other.getByRole('status').filter({ hasText: /^saved/ })).toBeVisible()
  await typeOver(page, 'Io Marrec', 'Mine')
  const dialog = page.getByRole('dialog', { name: 'Changed elsewhere' })
  await dialog.getByRole('button', { name: 'Take the other one' }).click()
  await expect(cell(page, 'Theirs')).toBeVisible()
  await expect(cell(page, 'Mine')).toBeHidden()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(cell(page, 'Mine')).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: /^saved/ })).toBeVisible()
  await other.reload()
  await expect(cell(other, 'Mine')).toBeVisible()
})

test('without a net the work goes on, says so, and is saved when the net is back', async ({ page, context }) => {
  const sheet = await ownSheet(page, ['Io Marrec', 'Tam'])
  await page.goto(sheet)
  await expect(page.getByText('2 fine')).toBeVisible()
  await context.setOffline(true)
  await typeOver(page, 'Tam', 'Kelp')
  await expect(page.getByRole('status').filter({ hasText: /^not saved: Hoja does not answer/ })).toBeVisible()
  await typeOver(page, 'Io Marrec', 'Eel')
  await context.setOffline(false)
  await expect(page.getByRole('status').filter({ hasText: /^saved/ })).toBeVisible()
  await page.reload()
  await expect(cell(page, 'Kelp')).toBeVisible()
  await expect(cell(page, 'Eel')).toBeVisible()
})
