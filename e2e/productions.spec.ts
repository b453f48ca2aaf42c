import AxeBuilder from '@axe-core/playwright'
import { complaints, ownTemplate } from './pages.ts'
import { expect, type Page, test } from './test.ts'

async function bring(page: Page, file: string): Promise<void> {
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in a file' }).first().click()
  await (await chooser).setFiles(file)
}

test('an editor works on a show: a file for its templates, what has a stop, what is rendered, all outputs', async ({
  page,
}, { retry }) => {
  const wrong = complaints(page)
  // No two productions have one name, and a second try finds what the first one made.
  const show = `Estuary Week, day ${retry + 1}`
  await page.goto('/')
  await page.getByRole('button', { name: '+ New', exact: true }).click()
  await page.getByRole('textbox', { name: 'Name' }).fill(show)
  await page.keyboard.press('Enter')
  await expect(page.getByText('No sheets yet')).toBeVisible()
  await bring(page, 'demo/data/estuary-week.xlsx')
  const dialog = page.getByRole('dialog', { name: `estuary-week.xlsx for ${show}` })
  await expect(dialog.getByLabel('Template for Places')).toContainText('Place')
  await dialog.getByLabel('Template for Friday talks').selectOption({ label: 'nothing: left out' })
  await dialog.getByRole('button', { name: 'Bring in 16 rows as 4 sheets' }).click()
  const sheets = page.getByRole('region', { name: 'Sheets' })
  await expect(sheets.getByRole('row')).toHaveCount(5)
  await bring(page, 'demo/data/speakers.csv')
  await page.getByRole('button', { name: 'Bring in 40 rows as 1 sheet' }).click()
  const row = sheets.getByRole('row').filter({ hasText: 'speakers.csv' })
  await expect(row).toContainText('5 stop')
  await expect(sheets.getByRole('row').filter({ hasText: 'Friday speakers' })).toContainText('4 fine')
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([])

  // To the sheet and back by its name; what was mended there is seen here.
  await row.getByRole('link', { name: 'speakers.csv' }).click()
  await expect(page.getByRole('link', { name: show, exact: true })).toBeVisible()
  await page.getByRole('link', { name: show, exact: true }).click()
  await row.click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Render …' }).click()
  await page.getByRole('button', { name: /^Render/ }).click()
  await expect(page.getByRole('progressbar', { name: 'Rendered rows' })).toBeVisible()
  await page.goto('/outputs')
  await page.getByLabel('Of which production').selectOption(show)
  const output = page.getByRole('row').filter({ hasText: 'speakers.csv as' })
  await output.click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Pause' }).click()
  await expect(output).toContainText('paused')
  await output.getByRole('button', { name: /^More for speakers/ }).click()
  await page.getByRole('menuitem', { name: 'Stop' }).click()
  await expect(output).toContainText('stopped')
  await expect(page.getByText(/GB free on the disk/)).toBeVisible()
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([])
  expect(wrong).toEqual([])
})

test('a template is used, a sheet started from it, taken out again; the production is renamed and removed', async ({
  page,
}, { retry }) => {
  const wrong = complaints(page)
  const show = retry === 0 ? 'Regatta' : `Regatta ${retry + 1}`
  await ownTemplate(page)
  await page.goto('/')
  await page.getByRole('button', { name: '+ New', exact: true }).click()
  await page.getByRole('textbox', { name: 'Name' }).fill(show)
  await page.getByRole('button', { name: 'Begin it' }).click()
  await page.getByRole('button', { name: 'Use another template' }).click()
  await page.getByRole('menuitem', { name: 'Talk', exact: true }).click()
  await page.getByRole('button', { name: `Talk in ${show}` }).click()
  await page.getByRole('menuitem', { name: 'New sheet' }).click()
  await expect(page).toHaveURL(/\/t\/talk\/fill\/\d+$/)
  await page.getByRole('link', { name: show, exact: true }).click()
  const row = page
    .getByRole('region', { name: 'Sheets' })
    .getByRole('row')
    .filter({ hasText: `Talk, ${show}` })
  await row.click({ button: 'right' })
  await page.getByRole('menuitemcheckbox', { name: show, exact: true }).click()
  await expect(page.getByText('No sheets yet')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: `More for ${show}` }).click()
  await page.getByRole('menuitem', { name: 'Rename …' }).click()
  await page.getByRole('textbox', { name: 'Name' }).fill(`${show}, the race of the flat boats of Puerto Brisal`)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /flat boats/ })).toBeVisible()
  page.once('dialog', (asked) => void asked.accept())
  await page.getByRole('button', { name: /^More for/ }).click()
  await page.getByRole('menuitem', { name: 'Remove …' }).click()
  await expect(page.getByRole('heading', { name: 'Templates' })).toBeVisible()
  // Its sheet is still on the Shelf.
  await expect(page.getByRole('link', { name: `Talk, ${show}` })).toBeVisible()
  expect(wrong).toEqual([])
})
