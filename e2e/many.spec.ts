import { readFileSync, writeFileSync } from 'node:fs'
import { choose, complaints, openDraft, ownTemplate, stored } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const look = (page: Page, shape: string) => page.getByRole('radio', { name: shape, exact: true }).click()
const size = (page: Page) => page.getByLabel('Size', { exact: true })
const nameSize = async (page: Page) => {
  const { parts, shapes } = await stored(page)
  const texts = (list: typeof parts): typeof parts =>
    list.flatMap((part) => [part, ...(part.parts ? texts(part.parts) : [])])
  const first = texts(parts).find(({ name }) => name === 'Name')!
  const square = shapes
    ?.find(({ name }) => name === '1:1')
    ?.sets.find(({ part, property }) => part === first.id && property === 'size')
  return [(first.style as { size: number }).size, square?.value]
}

// Walks docs/how-to/many-titles.md: its headings are the steps, and what it says is what is done.
test('docs/how-to/many-titles.md, step by step', async ({ page }, testInfo) => {
  const wrong = complaints(page)
  const text = readFileSync('docs/how-to/many-titles.md', 'utf8')
  const headings = [...text.matchAll(/^## (.+)$/gm)].map((match) => match[1])
  const walked: string[] = []
  const step = async (name: string, work: () => Promise<void>) => {
    walked.push(name)
    await test.step(name, work)
  }
  const id = await ownTemplate(page)
  await openDraft(page, id)

  await step('1. Let editors choose a colour', async () => {
    await page.getByRole('button', { name: 'Palette colour Night tide' }).click()
    await page.getByText('Editors choose it').click()
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Palette colour Deep water' }).click()
    await page.getByLabel('Follows').selectOption('darker than')
    await page.keyboard.press('Escape')
    const { palette, fields } = await stored(page)
    expect(palette.find(({ name }) => name === 'Deep water')!.from).toMatchObject({ as: 'darker' })
    expect(fields.find(({ name }) => name === 'Night tide')!.type).toBe('colour')
  })

  await step('2. Name a palette', async () => {
    await page.getByRole('button', { name: '+ Palette' }).click()
    await page.getByRole('dialog').getByLabel('Name').fill('Evening')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('radio', { name: 'Evening' })).toBeChecked()
    await page.getByRole('radio', { name: 'As drawn' }).click()
  })

  await step('3. Give it another shape', async () => {
    await page.getByRole('button', { name: 'Another shape of the frame' }).click()
    await page.getByRole('menuitem', { name: '1:1' }).click()
    await expect(page.getByRole('button', { name: '1080 × 1080' })).toBeVisible()
    await expect(page.getByText('nothing is otherwise than in 16:9')).toBeVisible()
    await choose(page, 'Name')
    await page.getByRole('tab', { name: 'Style' }).click()
    await size(page).fill('96')
    await size(page).press('Enter')
    await expect.poll(() => nameSize(page)).toEqual([78, 96])
    await look(page, '16:9')
    await expect(size(page)).toHaveValue('78')
    await look(page, '1:1')
    await expect(size(page)).toHaveValue('96')
    await page.getByRole('button', { name: '1 otherwise than in 16:9' }).click()
    await page.getByRole('button', { name: 'Take back: Size of Name: 78 px → 96 px' }).click()
    await expect.poll(() => nameSize(page)).toEqual([78, undefined])
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(size(page)).toHaveValue('96')
  })

  await step('4. Let a choice mirror it', async () => {
    await page.keyboard.press('Control+k')
    await page.getByRole('dialog').getByRole('combobox').fill('Mirrored across, as a choice')
    await page.keyboard.press('Enter')
    await expect(page.getByText(/Editors choose the side/)).toBeVisible()
    const { fields, shapes } = await stored(page)
    expect(fields.find(({ key }) => key === 'side')!.options).toHaveLength(2)
    expect(shapes![1]!.sets).toHaveLength(1)
  })

  await step('5. Fill it', async () => {
    await page.getByRole('button', { name: /^Publish version/ }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Publish', exact: true }).click()
    await expect(page.getByRole('dialog')).toBeHidden()
    const file = testInfo.outputPath('two.csv')
    const rows = ['Io,Pilot,#7a1f2b,,mirrored', 'Maximiliana Theodora von Hollenstein,Head of sediment,,Evening,']
    writeFileSync(file, ['name,role,night tide,palette,side', ...rows, ''].join('\n'))
    await page.goto(`/t/${id}/fill`)
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Import a sheet' }).click()
    await (await chooser).setFiles(file)
    await page
      .getByRole('dialog')
      .getByRole('button', { name: /^Bring in/ })
      .click()
    await expect(page.getByRole('region', { name: 'Row 1' })).toContainText('Nothing to say about row 1')
    // A row that fits in the wide frame alone is told so.
    await page.getByTestId('grid').locator('.dsg-cell').filter({ hasText: 'Maximiliana' }).click()
    await expect(page.getByRole('region', { name: 'Row 2' })).toContainText(/stop.*In 1:1: Name/)
    await look(page, '1:1')
    await expect(page.getByRole('radio', { name: '1:1' })).toBeChecked()
  })

  await step('6. Render the shapes', async () => {
    await page.getByRole('button', { name: 'Render 1 row' }).click()
    await page.getByRole('radio', { name: /^SVG/ }).click()
    const shapes = page.getByRole('group', { name: 'Shapes of the frame' })
    await shapes.getByLabel('1:1').check()
    await expect(page.getByText('Each as it is drawn.')).toBeVisible()
    await expect(page.getByText('001_Io_16x9.svg')).toBeVisible()
    await page.getByRole('button', { name: 'Render 2 rows in 2 shapes' }).click()
    const outputs = page.getByRole('complementary')
    await expect(outputs.getByRole('button', { name: /two\.csv.*SVG still, 16:9,.*2 of 2 done/ })).toBeVisible()
    await outputs.getByRole('button', { name: /two\.csv.*SVG still, 1:1,/ }).click()
    await expect(page.getByRole('heading', { name: 'two.csv as SVG still, 1:1' })).toBeVisible()
    await expect(page.getByText('001_Io_1x1.svg')).toBeVisible()
    await expect(page.getByText('1 held by their checks')).toBeVisible()
  })
  expect(walked).toEqual(headings)
  expect(wrong).toEqual([])
})
