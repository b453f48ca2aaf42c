import { readFileSync, writeFileSync } from 'node:fs'
import { zipSync } from 'fflate'
import { complaints } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const doc = readFileSync('docs/how-to/fill.md', 'utf8')
const headings = [...doc.matchAll(/^## (\d+\. .+)$/gm)].map((match) => match[1]!)

const grid = (page: Page) => page.getByTestId('grid')
const cell = (page: Page, text: string | RegExp) => grid(page).locator('.dsg-cell').filter({ hasText: text }).first()
/** Only rows in sight are there. */
const toTop = (page: Page) =>
  grid(page)
    .locator('.dsg-container')
    .evaluate((element) => element.scrollTo(0, 0))
const more = async (page: Page, entry: string) => {
  await page.getByRole('button', { name: 'More ▾', exact: true }).click()
  await page.getByRole('menuitem', { name: entry }).click()
}

const status = (page: Page) => page.getByRole('status')

/** The demo's own sheet once more, open: each test has one of its own, as it ships. */
async function speakers(page: Page): Promise<void> {
  const sheets = (await (await page.request.get('/api/sheets')).json()) as { name: string; version: number }[]
  const { version } = sheets.find((sheet) => sheet.name === 'speakers.csv')!
  await page.request.post('/api/sheets/import', {
    multipart: {
      version: String(version),
      file: { name: 'speakers.csv', mimeType: 'text/csv', buffer: readFileSync('demo/data/speakers.csv') },
    },
  })
  await page.goto('/t/speaker/fill')
  await page
    .getByRole('button', { name: /^speakers\.csv/ })
    .first()
    .click()
  await expect(status(page).getByRole('button', { name: '5 stop' })).toBeVisible()
}

/** What is done under each heading of the page; every one begins anew. */
const steps: Record<string, (page: Page, data: string) => Promise<void>> = {
  '1. Bring in a workbook that is for several templates': async (page) => {
    await page.goto('/t/speaker/fill')
    await page.getByLabel('Data file').setInputFiles('demo/data/estuary-week.xlsx')
    const dialog = page.getByRole('dialog')
    await expect(dialog.getByRole('button', { name: 'Bring in 5 rows' })).toBeVisible()
    await dialog.getByLabel('Worksheet').selectOption('Places')
    await expect(dialog.getByRole('alert')).toContainText('None of the columns match "Speaker"')
    await dialog.getByRole('button', { name: 'For several templates …' }).click()
    await expect(dialog.getByLabel('Template for Friday talks')).toHaveValue(/\d+/)
    await dialog.getByLabel('Template for Friday talks').selectOption({ label: 'nothing: left out' })
    await dialog.getByRole('button', { name: 'Bring in 16 rows as 4 sheets' }).click()
    await expect(page.getByText('Thursday speakers').first()).toBeVisible()
    await expect(page.getByText('of 5 rows')).toBeVisible()
  },
  '2. Say what fills what': async (page) => {
    await page.goto('/t/speaker/fill')
    await page.getByLabel('Data file').setInputFiles('demo/data/estuary-week.xlsx')
    await page.getByRole('dialog').getByRole('button', { name: 'Bring in 5 rows' }).click()
    await page.getByRole('button', { name: /^Columns/ }).click()
    const dialog = page.getByRole('dialog')
    const role = dialog.getByRole('listitem', { name: 'Role' })
    await role.getByRole('button', { name: 'More for Role' }).click()
    await page.getByRole('menuitem', { name: 'Join another column' }).click()
    await expect(role.getByText(/^Tidal geographer \+ Ioana/)).toBeVisible()
    await role.getByLabel('Then, for Role').selectOption('none')
    await role.getByRole('button', { name: 'More for Role' }).click()
    await page.getByRole('menuitem', { name: /^Capitals/ }).click()
    await role.getByLabel('Capitals', { exact: true }).selectOption('ALL CAPITALS')
    await expect(role.getByText('TIDAL GEOGRAPHER', { exact: true })).toBeVisible()
    await dialog.getByRole('button', { name: 'Use this match' }).click()
    await expect(cell(page, 'SLUICE KEEPER')).toBeVisible()
  },
  '3. Read the line on top': async (page) => {
    await speakers(page)
    await expect(status(page).getByRole('button', { name: '5 stop' })).toBeVisible()
    await status(page).getByRole('button', { name: '5 stop' }).click()
    await expect(page.getByText('5 shown')).toBeVisible()
    await page.getByLabel('With what was found').selectOption({ label: 'A picture that is not there (1)' })
    await expect(page.getByText('1 shown')).toBeVisible()
    await expect(cell(page, 'pilot.png')).toBeVisible()
    await page.getByLabel('With what was found').selectOption('')
    await status(page).getByRole('button', { name: '5 stop' }).click()
    await page.getByRole('button', { name: /^Tidy \d+ rows$/ }).click()
    await expect(page.getByRole('button', { name: /^Tidy/ })).toHaveCount(0)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(page.getByRole('button', { name: /^Tidy \d+ rows$/ })).toBeVisible()
  },
  '4. Put it right': async (page) => {
    await speakers(page)
    await cell(page, 'Wilhelmina-Alexandrina').click()
    await page.keyboard.type('Lilli-Illiana Fitzwilliam-Littleton-Ilios')
    await expect(page.getByRole('alert')).toContainText('Name has 41 characters, 1 more than the 40 allowed')
    await page.keyboard.press('Backspace')
    await expect(page.getByRole('alert')).toHaveCount(0)
    await page.keyboard.press('Enter')
    await expect(status(page).getByRole('button', { name: '4 stop' })).toBeVisible()
    // Escape leaves a cell as it was.
    await toTop(page)
    await cell(page, 'Io Marrec').click()
    await page.keyboard.type('Nobody')
    await page.keyboard.press('Escape')
    await expect(cell(page, 'Io Marrec')).toBeVisible()
    // Marked and filled down.
    await cell(page, 'Tide-mill keeper').click()
    await page.keyboard.press('Shift+ArrowDown')
    await page.keyboard.press('Shift+ArrowDown')
    await expect(page.getByText('3 rows', { exact: true })).toBeVisible()
    await page.keyboard.press('Control+d')
    await expect(grid(page).getByText('Tide-mill keeper')).toHaveCount(3)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(grid(page).getByText('Tide-mill keeper')).toHaveCount(1)
    await cell(page, 'Io Marrec').click()
    await page.getByRole('button', { name: 'Replace …' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByLabel('Find', { exact: true }).fill('ecologist')
    await dialog.getByLabel('Put instead').fill('botanist')
    await dialog.getByRole('button', { name: /^Replace in \d cells$/ }).click()
    await expect(grid(page).getByText('Salt-marsh botanist', { exact: true })).toBeVisible()
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    // In another order, by groups.
    await page.getByLabel('Group', { exact: true }).selectOption({ label: 'by Mark' })
    await page
      .getByRole('list', { name: 'Groups' })
      .getByRole('button', { name: /^gull\.png/ })
      .click()
    await expect(page.getByText(/^\d shown$/)).toBeVisible()
    await page.getByLabel('Group', { exact: true }).selectOption('')
    await page.getByLabel('Rows with this text').fill('pilot')
    await expect(page.getByText(/^\d shown$/)).toBeVisible()
    await page.getByLabel('Rows with this text').fill('')
    await toTop(page)
  },
  '5. Set a row apart': async (page) => {
    await speakers(page)
    await cell(page, 'Gwyneth Pugh').click()
    await page.getByLabel('Row 12 is rendered').uncheck()
    await expect(status(page).getByRole('button', { name: '1 off' })).toBeVisible()
    await page.getByRole('button', { name: 'Its own' }).click()
    await page.getByLabel('Frames of row 12').fill('12')
    await page.getByLabel('Frames of row 12').press('Enter')
    await expect(page.getByText('12 frames are too few: In and Out need 30; give it 18 more.')).toBeVisible()
    await page.getByLabel('Note on row 12').fill('Ask her how she spells it')
    await page.getByLabel('Note on row 12').press('Enter')
    await expect(grid(page).getByRole('img', { name: 'has a note' })).toBeVisible()
    await expect(status(page).filter({ hasText: /^saved$/ })).toBeVisible()
    await page.reload()
    await expect(status(page).getByRole('button', { name: '1 off' })).toBeVisible()
    await page.getByLabel('Show', { exact: true }).selectOption('noted')
    await expect(page.getByText('1 shown')).toBeVisible()
    await page.getByLabel('Show', { exact: true }).selectOption('all')
    await toTop(page)
  },
  '6. Bring in pictures': async (page) => {
    await speakers(page)
    await more(page, 'Pictures of this sheet …')
    const dialog = page.getByRole('dialog')
    await expect(dialog.getByText('Named in rows and not here: pilot.png.')).toBeVisible()
    const zip = zipSync({ 'pilot.png': readFileSync('demo/templates/species/media/gull.png') })
    await dialog
      .getByLabel('Pictures, movies or a zip')
      .setInputFiles({ name: 'p.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) })
    await expect(dialog.getByRole('img', { name: 'pilot.png' })).toBeVisible()
    await dialog.getByRole('button', { name: 'Done' }).click()
    await expect(status(page).getByRole('button', { name: '4 stop' })).toBeVisible()
  },
  '7. Look at every title': async (page) => {
    await speakers(page)
    const contact = page.getByRole('region', { name: 'Contact sheet' })
    await expect(contact.getByRole('button').first()).toHaveAccessibleName(/stop$/)
    await page.getByRole('radio', { name: 'Fit chart' }).click()
    await expect(page.getByText(/texts? needs? more room than there is/)).toBeVisible()
    await page.getByRole('radio', { name: 'Before and after' }).click()
    await page.getByLabel('Against').selectOption('opened')
    await expect(page.getByText('No row differs.')).toBeVisible()
    await cell(page, 'Io Marrec').click()
    await page.keyboard.type('Io Marrec-Rowe')
    await page.keyboard.press('Enter')
    await expect(page.getByText('1 of 1 rows changes.')).toBeVisible()
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(page.getByText('No row differs.')).toBeVisible()
    await page.getByRole('radio', { name: 'Contact sheet' }).click()
  },
  '8. Follow a file or a feed': async (page, data) => {
    const file = `${data}/followed/desk.json`
    const rows = [
      { station: 'North Light', height: 2.1, trend: 'rising', boats: true },
      { station: 'Eel Quay', height: 0.9, trend: 'falling', boats: false },
    ]
    writeFileSync(file, JSON.stringify(rows))
    await page.goto('/t/tide/fill')
    await page.getByRole('button', { name: 'Follow a file or feed' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('button', { name: /^followed\/desk\.json/ }).click()
    await dialog.getByRole('button', { name: 'Look at it' }).click()
    await dialog.getByRole('button', { name: 'Follow 2 rows' }).click()
    await expect(page.getByText(/^as of /)).toBeVisible()
    await expect(page.getByRole('button', { name: 'Add a row' })).toHaveCount(0)
    writeFileSync(file, JSON.stringify([{ ...rows[0], height: 3.3 }, rows[1]]))
    await expect(cell(page, '3.3')).toBeVisible()
    await expect(page.getByText('1 cell changed just now')).toBeVisible()
    // Set by hand, it stays beside what the data says.
    await cell(page, 'rising').click()
    await page.keyboard.type('rising fast')
    await page.keyboard.press('Enter')
    writeFileSync(file, JSON.stringify([{ ...rows[0], height: 3.4, trend: 'slack' }, rows[1]]))
    await expect(cell(page, '3.4')).toBeVisible()
    await expect(cell(page, 'rising fast')).toBeVisible()
    await page.getByRole('button', { name: 'Row 1, ' }).first().click()
    await page.getByRole('button', { name: 'As the data says' }).click()
    await expect(cell(page, 'slack')).toBeVisible()
    writeFileSync(file, '[{"station": "North L')
    await expect(page.getByRole('alert')).toContainText(/"desk.json" is not JSON: it breaks at line 1, column \d+/)
    await expect(cell(page, '3.4')).toBeVisible()
    await page.getByRole('button', { name: 'Stop following' }).click()
    await expect(page.getByRole('button', { name: 'Add a row' })).toBeVisible()

    await page.goto('/t/tide/fill')
    await page.getByRole('button', { name: 'Follow a file or feed' }).click()
    await dialog.getByRole('radio', { name: 'A feed' }).click()
    await dialog.getByRole('button', { name: /^Tide gauge/ }).click()
    await dialog.getByRole('button', { name: 'Look at it' }).click()
    await dialog.getByRole('button', { name: 'Follow 4 rows' }).click()
    await expect(page.getByText(/cells? changed just now/)).toBeVisible({ timeout: 15_000 })
    await page.getByRole('radio', { name: 'fails', exact: true }).click()
    await expect(page.getByRole('alert')).toContainText('The feed answers 503')
    await page.getByRole('radio', { name: 'works', exact: true }).click()
    await expect(page.getByText(/^as of /)).toBeVisible()
    await page.getByRole('button', { name: 'Stop following' }).click()
  },
  '9. Have it signed': async (page) => {
    await speakers(page)
    await status(page).getByRole('button', { name: '5 stop' }).click()
    const popup = page.waitForEvent('popup')
    await more(page, 'Sign-off sheet, as a page')
    const sheet = await popup
    await expect(sheet.getByRole('heading', { name: 'Sign-off: speakers.csv' })).toBeVisible()
    await expect(sheet.getByRole('row')).toHaveCount(6)
    await sheet.close()
    const download = page.waitForEvent('download')
    await more(page, 'Sign-off sheet, as PDF')
    expect((await download).suggestedFilename()).toBe('speakers-sign-off.pdf')
  },
}

test('docs/how-to/fill.md has a walk for each of its headings', () => {
  expect(Object.keys(steps)).toEqual(headings)
})

for (const [heading, walk] of Object.entries(steps))
  test(`docs/how-to/fill.md: ${heading}`, async ({ server, page }) => {
    const wrong = complaints(page)
    await walk(page, server.data)
    // A feed that is told to fail is the only thing that may go wrong.
    expect(wrong.filter((line) => !line.includes('503'))).toEqual([])
  })

// What other tests find is as it ships.
let shipped = new Set<number>()
const sheetsNow = async (page: Page) =>
  ((await (await page.request.get('/api/sheets')).json()) as { id: number }[]).map(({ id }) => id)
test.beforeEach(async ({ page }) => {
  shipped = new Set(await sheetsNow(page))
})
test.afterEach(async ({ page }) => {
  for (const id of await sheetsNow(page)) if (!shipped.has(id)) await page.request.delete(`/api/sheets/${id}`)
})
