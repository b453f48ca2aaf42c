import { utils, write } from '@e965/xlsx'
import { complaints, ownTemplate, paste } from './pages.ts'
import { expect, test } from './test.ts'

/** A template of the test's own with a published version, and a sheet of the given rows. */
async function ownSheet(page: import('@playwright/test').Page, rows: string[][]): Promise<string> {
  const id = await ownTemplate(page)
  const version = (await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()) as {
    id: number
  }
  const response = await page.request.post('/api/sheets', { data: { version: version.id, name: 'Day 2', table: rows } })
  expect(response.ok()).toBe(true)
  return `/t/${id}/fill/${((await response.json()) as { id: number }).id}`
}

test('cells are typed and pasted from a spreadsheet, checked at once, undone, and still there after a reload', async ({
  page,
}) => {
  const wrong = complaints(page)
  const sheet = await ownSheet(page, [
    ['name', 'role'],
    ['Io Marrec', 'Pilot'],
    ['Tam', ''],
    ['Xu', 'Kelp'],
  ])
  await page.goto(sheet)
  await expect(page.getByText('3 fine')).toBeVisible()
  const cell = (text: string) => page.getByTestId('grid').locator('.dsg-cell').filter({ hasText: text }).first()

  await cell('Tam').click()
  await page.keyboard.type('Wilhelmina-Alexandrina Fotheringay-Ludlow-Okonkwo')
  await page.keyboard.press('Enter')
  await expect(page.getByText('1 stop')).toBeVisible()
  await page.getByRole('button', { name: 'Row 2, stop' }).click()
  await expect(page.getByLabel('Row 2', { exact: true }).getByText('9 more than the 40 allowed')).toBeVisible()

  await cell('Io Marrec').click()
  await paste(page, 'Gwyneth Pugh\tBoat builder\nAna María Ibáñez\tDirector')
  await expect(cell('Ana María Ibáñez')).toBeVisible()
  await expect(page.getByText('3 fine')).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible()
  await page.reload()
  await expect(cell('Gwyneth Pugh')).toBeVisible()
  await expect(cell('Director')).toBeVisible()

  await cell('Xu').click()
  await page.keyboard.type('Kel  p')
  await page.keyboard.press('Enter')
  await expect(page.getByText('1 look')).toBeVisible()
  await page.getByRole('button', { name: 'Tidy it' }).click()
  await expect(page.getByText('3 fine')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('1 look')).toBeVisible()
  await page.getByRole('button', { name: 'Add a row' }).click()
  await expect(page.getByText('of 4 rows')).toBeVisible()
  expect(wrong).toEqual([])
})

test('the row proof plays and scrubs; the contact sheet filters; a column is matched by hand', async ({ page }) => {
  const sheet = await ownSheet(page, [
    ['Entry', 'role'],
    ['Io Marrec', 'Pilot'],
    ['\u{1319D}', 'Fish'],
  ])
  await page.goto(sheet)
  await expect(page.getByText('No column matches "Name"')).toBeVisible()
  await page.getByRole('button', { name: 'Columns: 1 of 3 matched' }).click()
  await page.getByRole('dialog').getByLabel('What fills Name').selectOption('Entry')
  await page.getByRole('button', { name: 'Use this match' }).click()
  await expect(page.getByText('1 stop')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Render 1 row' })).toBeVisible()
  const proof = page.getByRole('img', { name: /^Row 1 at frame/ })
  await expect(proof).toHaveAttribute('aria-label', 'Row 1 at frame 15')
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await expect(proof).not.toHaveAttribute('aria-label', 'Row 1 at frame 15')
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await page.getByRole('button', { name: '1 stop' }).click()
  const contact = page.getByRole('region', { name: 'Contact sheet' })
  await expect(contact.getByRole('button')).toHaveCount(1)
  await contact.getByRole('button', { name: 'Row 2, stop' }).click()
  await expect(page.getByLabel('Row 2', { exact: true }).getByText('U+1319D')).toBeVisible()
})

test('20,000 rows of 60 columns open, scroll and are checked without the page standing still', async ({ page }) => {
  test.setTimeout(300_000)
  const id = await ownTemplate(page)
  await page.request.post(`/api/templates/${id}/versions`, { data: {} })
  const columns = ['name', 'role', ...Array.from({ length: 58 }, (_, i) => `extra ${i}`)]
  const lines = Array.from({ length: 20_000 }, (_, r) =>
    [`Speaker ${r}`, `Station ${r % 97}`, ...Array.from({ length: 58 }, (_x, i) => String((r * i) % 10))].join(','),
  )
  await page.goto(`/t/${id}/fill`)
  await page.getByLabel('Data file').setInputFiles({
    name: 'big.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([columns.join(','), ...lines].join('\n')),
  })
  // What it is can be seen, and Enter brings it in.
  await expect(page.getByRole('button', { name: 'Bring in 20,000 rows' })).toBeFocused({ timeout: 60_000 })
  await page.keyboard.press('Enter')
  await expect(page.getByText('of 20,000 rows')).toBeVisible({ timeout: 60_000 })
  await expect(page.getByText('more …')).toBeVisible()
  // Rows are checked in the worker: a click is answered while there are more of them to come.
  await page.getByRole('button', { name: /^Columns/ }).click()
  await expect(page.getByRole('dialog')).toBeVisible()
  expect(await page.getByText('more …').count()).toBe(1)
  await page.getByRole('button', { name: 'Cancel' }).click()
  await page
    .getByTestId('grid')
    .locator('.dsg-container')
    .evaluate((element) => element.scrollTo(0, 20_000 * 29))
  await expect(page.getByTestId('grid').getByText('Speaker 19999')).toBeVisible()
})

test('a workbook is looked at before it comes in: its sheet, the row of names, hidden rows, and what fills what', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await page.request.post(`/api/templates/${id}/versions`, { data: {} })
  const book = utils.book_new()
  utils.book_append_sheet(
    book,
    utils.aoa_to_sheet([
      ['station', 'height'],
      ['North', 3.2],
    ]),
    'Tides',
  )
  const speakers = utils.aoa_to_sheet([
    ['Estuary Week, Thursday', '', ''],
    ['Name', 'Role', 'Remark'],
    ['Io Marrec', 'Rope', 'call first'],
    ['Tam', 'Tar', ''],
    ['Nobody', 'Hidden', ''],
  ])
  speakers['!rows'] = [{}, {}, {}, {}, { hidden: true }]
  utils.book_append_sheet(book, speakers, 'Speakers')
  const buffer = Buffer.from(write(book, { type: 'array', bookType: 'xlsx', cellStyles: true }) as ArrayBuffer)
  await page.goto(`/t/${id}/fill`)
  await page.getByLabel('Data file').setInputFiles({ name: 'week.xlsx', mimeType: 'application/zip', buffer })
  const dialog = page.getByRole('dialog', { name: 'Bring in week.xlsx' })
  // The worksheet that matches is offered before the first one, and the wrong one is told of before anything is used.
  await expect(dialog.getByRole('status')).toContainText('Worksheet "Tides" matches nothing')
  await expect(dialog.getByLabel('Worksheet')).toHaveValue('Speakers')
  await dialog.getByLabel('Worksheet').selectOption({ label: 'Tides (2 x 2, matches nothing)' })
  await expect(dialog.getByRole('alert')).toContainText('is this the right sheet?')
  await dialog.getByLabel('Worksheet').selectOption({ label: 'Speakers (5 x 3, matches 2 fields)' })
  await expect(dialog.getByText('Row 2 names the columns: choose another')).toBeVisible()
  await expect(dialog.getByText('Not used: Remark.')).toBeVisible()
  await expect(dialog.getByRole('button', { name: 'Bring in 2 rows' })).toBeVisible()
  await dialog.getByLabel('Hidden ones').check()
  await expect(dialog.getByRole('button', { name: 'Bring in 3 rows' })).toBeVisible()
  await dialog.getByRole('radio', { name: /^1 Estuary Week/ }).click()
  await expect(dialog.getByRole('columnheader', { name: 'Estuary Week, Thursday' })).toBeVisible()
  await dialog.getByRole('radio', { name: /^2 Name/ }).click()
  await dialog.getByLabel('Called').fill('Thursday')
  await dialog.getByRole('button', { name: 'Bring in 3 rows' }).click()
  await expect(page.getByText('of 3 rows, version 1')).toBeVisible()
  await expect(page.getByRole('navigation', { name: 'Where you are' })).toContainText('Thursday')
  expect(wrong).toEqual([])
})

test('a list anywhere in a JSON file is chosen by its path (RFC 9535)', async ({ page }) => {
  const id = await ownTemplate(page)
  await page.request.post(`/api/templates/${id}/versions`, { data: {} })
  const week = {
    days: [
      { talks: [{ name: 'Io', day: 1 }] },
      {
        talks: [
          { name: 'Ada', day: 2 },
          { name: 'Tam', day: 2 },
        ],
      },
    ],
  }
  await page.goto(`/t/${id}/fill`)
  await page
    .getByLabel('Data file')
    .setInputFiles({ name: 'week.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(week)) })
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Path', { exact: true }).fill('$..talks[?@.day == 2]')
  await dialog.getByLabel('Path', { exact: true }).press('Enter')
  await expect(dialog.getByRole('button', { name: 'Bring in 2 rows' })).toBeVisible()
  await dialog.getByLabel('Path', { exact: true }).fill('$..[')
  await dialog.getByLabel('Path', { exact: true }).press('Enter')
  await expect(dialog.getByRole('alert')).toContainText('is no path of RFC 9535')
})

test('the locators of an edit decision list come in with where they stand', async ({ page }) => {
  const id = await ownTemplate(page)
  await page.request.post(`/api/templates/${id}/versions`, { data: {} })
  const list = `TITLE: ESTUARY WEEK
FCM: NON-DROP FRAME

001  QUAY     V     C        00:00:10:00 00:00:14:00 10:00:00:00 10:00:04:00
* FROM CLIP NAME: Quay at dawn.mov
* LOC: 10:00:01:15 RED     Maren Oduya
`
  await page.goto(`/t/${id}/fill`)
  await page
    .getByLabel('Data file')
    .setInputFiles({ name: 'week.edl', mimeType: 'text/plain', buffer: Buffer.from(list) })
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByLabel('What of it')).toHaveValue('Events')
  await expect(dialog.getByRole('cell')).toContainText(['10:00:00:00', '10:00:04:00', 'Quay at dawn.mov'])
  await dialog.getByLabel('What of it').selectOption('Locators')
  await expect(dialog.getByRole('cell')).toContainText(['10:00:01:15', 'Maren Oduya'])
  await dialog.getByRole('button', { name: 'Bring in 1 row' }).click()
  await expect(page.getByRole('navigation', { name: 'Where you are' })).toContainText('week.edl')
})

for (const [before, after] of [
  ['$.gu', 'ests'],
  ['', '$.guests'],
] as const)
  test(`a path of which "${before}" is typed before its file has been read stays what is typed`, async ({ page }) => {
    const id = await ownTemplate(page)
    await page.request.post(`/api/templates/${id}/versions`, { data: {} })
    let answer = () => {}
    const slow = new Promise<void>((go) => {
      answer = go
    })
    await page.route('**/api/sheets/import/preview', async (route) => {
      await slow
      await route.continue()
    })
    const week = { talks: [{ name: 'Io' }], guests: [{ name: 'Ada' }, { name: 'Tam' }] }
    await page.goto(`/t/${id}/fill`)
    await page
      .getByLabel('Data file')
      .setInputFiles({ name: 'week.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(week)) })
    const dialog = page.getByRole('dialog')
    const path = dialog.getByLabel('Path', { exact: true })
    await path.click()
    await page.keyboard.type(before)
    answer()
    await expect(dialog.getByLabel('Rows', { exact: true })).toBeVisible()
    await page.keyboard.type(after)
    await expect(path).toHaveValue('$.guests')
    await page.keyboard.press('Enter')
    await expect(dialog.getByRole('button', { name: 'Bring in 2 rows' })).toBeVisible()
  })

test('rows are seen together: a name twice, a slip of one letter, capitals; an edit puts it right at once', async ({
  page,
}) => {
  const id = await ownTemplate(page)
  const version = (await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()) as {
    id: number
  }
  const names = [
    'Maren Oduya',
    'Io Marrec',
    'Tamsin Rowe',
    'Gwyneth Pugh',
    'Ada Brzeg',
    'Tamsin Row',
    'LARS BRUN',
    'Io Marrec',
  ]
  const table = [['name', 'role'], ...names.map((name, i) => [name, `Station ${i}`])]
  const sheet = (await (
    await page.request.post('/api/sheets', { data: { version: version.id, name: 'Together', table } })
  ).json()) as { id: number }
  await page.goto(`/t/${id}/fill/${sheet.id}`)
  await expect(page.getByText('3 look')).toBeVisible()
  await page.getByRole('button', { name: 'Row 6, look' }).click()
  await expect(page.getByText('Name is nearly that of row 3, "Tamsin Rowe"; a slip?')).toBeVisible()
  await page.getByLabel('Name of row 6').fill('Pia Lund')
  await expect(page.getByText('2 look')).toBeVisible()
})

test('the fit chart shows what room every row needs; a point leads to its row', async ({ page }) => {
  const wrong = complaints(page)
  const long = 'Wilhelmina-Alexandrina Fotheringay-Ludlow-Okonkwo'
  const address = await ownSheet(page, [
    ['name', 'role'],
    ['Io Marrec', 'Rope'],
    [long, 'Tar'],
    ['Tam', 'Salt'],
  ])
  await page.goto(address)
  await expect(page.getByText('of 3 rows')).toBeVisible()
  await page.getByRole('radio', { name: 'Fit chart' }).click()
  await expect(
    page.getByText('1 of 6 texts needs more room than there is, and is fitted. The widest needs 101 %.'),
  ).toBeVisible()
  const points = page.locator('.scatterlayer .trace').filter({ has: page.locator('.point') })
  const name = points.nth(1).locator('.point').nth(1)
  const at = (await name.boundingBox())!
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2)
  await page.mouse.down()
  await page.mouse.up()
  await expect(page.getByRole('region', { name: 'Row 2' })).toBeVisible()
  await expect(page.getByLabel('Name of row 2')).toHaveValue(long)
  expect(wrong).toEqual([])
})
