import { writeFileSync } from 'node:fs'
import { choose, complaints, openDraft, ownTemplate, stored } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const look = (page: Page, shape: string) => page.getByRole('radio', { name: shape, exact: true }).click()
const size = (page: Page) => page.getByLabel('Size', { exact: true })
const nameSize = async (page: Page) => {
  const { parts, shapes } = await stored(page)
  const texts = (list: typeof parts): typeof parts =>
    list.flatMap((part) => [part, ...(part.parts ? texts(part.parts) : [])])
  const first = texts(parts).find(({ name }) => name === 'Name')!
  const upright = shapes?.find(({ name }) => name === '9:16')?.sets.find(({ part }) => part === first.id)
  return [(first.style as { size: number }).size, upright?.value]
}

test('one design in two shapes: what is set in one stays there, is listed and taken back, checked, filled and rendered', async ({
  page,
}, testInfo) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await page.getByRole('button', { name: 'Another shape of the frame' }).click()
  await page.getByRole('menuitem', { name: '9:16' }).click()
  await expect(page.getByRole('button', { name: '1080 × 1920' })).toBeVisible()
  await expect(page.getByText('nothing is otherwise than in 16:9')).toBeVisible()

  await choose(page, 'Name')
  await page.getByRole('tab', { name: 'Style' }).click()
  await size(page).fill('96')
  await size(page).press('Enter')
  await expect.poll(() => nameSize(page)).toEqual([78, 96])
  await look(page, '16:9')
  await expect(size(page)).toHaveValue('78')
  await look(page, '9:16')
  await expect(size(page)).toHaveValue('96')

  await page.getByRole('button', { name: '1 otherwise than in 16:9' }).click()
  await page.getByRole('button', { name: 'Take back: Size of Name: 78 px → 96 px' }).click()
  await expect.poll(() => nameSize(page)).toEqual([78, undefined])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(size(page)).toHaveValue('96')

  // Published, a row is looked at in every shape, and one that fits in the wide frame alone is told so.
  await page.getByRole('button', { name: /^Publish version/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  const file = testInfo.outputPath('two.csv')
  writeFileSync(file, 'name,role\nIo,Pilot\nMaximiliana Theodora von Hollenstein,Head of sediment\n')
  await page.goto(`/t/${id}/fill`)
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Import a sheet' }).click()
  await (await chooser).setFiles(file)
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Bring in/ })
    .click()
  await expect(page.getByRole('region', { name: 'Row 1' })).toContainText('Nothing to say about row 1')
  await page.getByTestId('grid').locator('.dsg-cell').filter({ hasText: 'Maximiliana' }).click()
  await expect(page.getByRole('region', { name: 'Row 2' })).toContainText(/stop.*In 9:16: Name/)
  await look(page, '9:16')
  await expect(page.getByRole('radio', { name: '9:16' })).toBeChecked()

  await page.getByRole('button', { name: 'Render 1 row' }).click()
  await page.getByRole('radio', { name: /^SVG/ }).click()
  const shapes = page.getByRole('group', { name: 'Shapes of the frame' })
  await shapes.getByLabel('9:16').check()
  await expect(page.getByText('Each as it is drawn.')).toBeVisible()
  await expect(page.getByText('001_Io_16x9.svg')).toBeVisible()
  await page.getByRole('button', { name: 'Render 2 rows in 2 shapes' }).click()
  const outputs = page.getByRole('complementary')
  await expect(outputs.getByRole('button', { name: /two\.csv.*16:9.*2 of 2 done/ })).toBeVisible()
  await outputs.getByRole('button', { name: /two\.csv.*9:16/ }).click()
  await expect(page.getByRole('heading', { name: 'two.csv as SVG still, 9:16' })).toBeVisible()
  await expect(page.getByText('001_Io_9x16.svg')).toBeVisible()
  await expect(page.getByText('1 held by their checks')).toBeVisible()
  expect(wrong).toEqual([])
})
