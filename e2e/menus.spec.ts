import { choose, complaints, openDraft, ownTemplate, paste } from './pages.ts'
import { expect, test } from './test.ts'

test('menus are where the pointer is: on a part, on none, in the list, on lanes and keys, on proofs', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  const frame = (await page.getByTestId('frame').boundingBox())!
  const at = (x: number, y: number): [number, number] => [
    frame.x + (x * frame.width) / 1920,
    frame.y + (y * frame.height) / 1080,
  ]
  const menu = page.getByRole('menu')
  const entry = (name: string) => menu.getByRole('menuitem', { name })
  await page.mouse.click(...at(1500, 300), { button: 'right' })
  await expect(entry('Fit the frame')).toBeVisible()
  await expect(entry('Tie as drawn')).toContainText('Y')
  await page.keyboard.press('Escape')
  await expect(menu).toHaveCount(0)
  // The part under the pointer is what it is about.
  await choose(page, 'Name')
  await page.mouse.click(...at(170, 940), { button: 'right' })
  await expect(page.getByText(/^of \d Mark$/)).toBeVisible()
  await expect(entry('Duplicate')).toContainText('Ctrl D')
  await entry('Duplicate').click()
  await expect(page.getByRole('listitem').filter({ hasText: 'Mark 2' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()

  const row = page.getByRole('listitem').filter({ hasText: /Edge/ })
  await row.click({ button: 'right' })
  await entry('Remove parts').click()
  await expect(row).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  // By the keyboard it is where the focus is.
  await row.getByRole('button').first().focus()
  await page.keyboard.press('Shift+F10')
  await expect(entry('Rename')).toBeVisible()
  await page.keyboard.press('Escape')

  const key = page.getByRole('button', { name: /^Keys of Name at in/ }).first()
  await key.click({ button: 'right' })
  await expect(menu).toContainText('chosen')
  await expect(entry('Reverse in time')).toBeEnabled()
  await page.keyboard.press('Escape')

  await page.getByRole('button', { name: /3 longest/ }).click({ button: 'right' })
  await entry('Put into the frame').click()
  await expect(page.getByText('In the frame: longest')).toBeVisible()
  expect(wrong).toEqual([])
})

test('a part that is dragged with Alt stays, and a copy goes; Escape makes none', async ({ page }) => {
  await openDraft(page, await ownTemplate(page))
  const rows = page.getByRole('complementary', { name: 'Parts' }).getByRole('listitem')
  const count = await rows.count()
  const frame = (await page.getByTestId('frame').boundingBox())!
  const at = (x: number, y: number): [number, number] => [
    frame.x + (x * frame.width) / 1920,
    frame.y + (y * frame.height) / 1080,
  ]
  await page.keyboard.down('Alt')
  await page.mouse.move(...at(170, 940))
  await page.mouse.down()
  await page.mouse.move(...at(600, 500), { steps: 5 })
  await expect(rows).toHaveCount(count + 1)
  await page.keyboard.press('Escape')
  await expect(rows).toHaveCount(count)
  await page.mouse.up()
  await page.mouse.move(...at(170, 940))
  await page.mouse.down()
  await page.mouse.move(...at(600, 500), { steps: 5 })
  await page.mouse.up()
  await page.keyboard.up('Alt')
  await expect(rows).toHaveCount(count + 1)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(rows).toHaveCount(count)
})

test('rows and cells of Fill, and cards of the Shelf, have their menus', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto('/t/speaker/fill')
  await expect(page.getByRole('button', { name: 'Follow a file or feed' })).toBeVisible()
  await paste(page, 'name\trole\nAna Brú\tPilot\nIo Marrec\tDiver')
  await expect(page.getByText('of 2 rows, version 1')).toBeVisible()
  const cell = (text: string) => page.getByTestId('grid').locator('.dsg-cell').filter({ hasText: text }).first()
  await cell('Ana Brú').click({ button: 'right' })
  const menu = page.getByRole('menu')
  await expect(menu.getByRole('menuitem', { name: 'Copy' })).toContainText('Ctrl C')
  await menu.getByRole('menuitem', { name: 'Duplicate the row' }).click()
  await expect(page.getByText('of 3 rows, version 1')).toBeVisible()
  await cell('Io Marrec').click({ button: 'right' })
  await menu.getByRole('menuitem', { name: 'Remove the row' }).click()
  await expect(page.getByText('of 2 rows, version 1')).toBeVisible()

  await page.goto('/')
  await page.getByRole('link', { name: 'Open Speaker', exact: true }).click({ button: 'right' })
  await menu.getByRole('menuitem', { name: 'What it carries' }).click()
  await expect(page).toHaveURL(/carries$/)
  expect(wrong).toEqual([])
})
