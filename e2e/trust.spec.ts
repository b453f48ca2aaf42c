import { writeFileSync } from 'node:fs'
import { choose, complaints, editorsForm, openDraft, ownTemplate, paste, saved } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const cell = (page: Page, text: string) =>
  page.getByTestId('grid').locator('.dsg-cell').filter({ hasText: text }).first()

/** A template of the test's own with a version, and the page of its sheets. */
async function ownSheets(page: Page): Promise<string> {
  const id = await ownTemplate(page)
  expect((await page.request.post(`/api/templates/${id}/versions`, { data: {} })).ok()).toBe(true)
  await page.goto(`/t/${id}/fill`)
  await expect(page.getByText('Drop a sheet here')).toBeVisible()
  return id
}

test('rows are pasted on the page of sheets, wherever the focus is; a column that is missing is told before it is rendered', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownSheets(page)
  // Nothing has the focus.
  await paste(page, 'only one line')
  await expect(page.getByText('Paste the row of column names with the rows below it.')).toBeVisible()
  await paste(page, 'Role\tPhone\n"Pilot\nof the mole"\t112\n')
  await expect(page.getByText('of 1 row, version 1')).toBeVisible()
  await expect(page.getByText('1 stop')).toBeVisible()
  await expect(
    page.getByText('Name is required and nothing was given, so "Maren Oduya-Castellví" would go out'),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: 'Render 0 rows' })).toBeDisabled()
  await page.goto(`/t/${id}/fill`)
  await expect(page.getByRole('button', { name: /Pasted rows 1 row version 1/ })).toBeVisible()
  // A button has it.
  await page.getByRole('button', { name: 'Type rows by hand' }).focus()
  await paste(page, 'Name,Role\nIo Marrec,Pilot\nTam,Diver\n')
  await expect(page.getByText('of 2 rows, version 1')).toBeVisible()
  expect(wrong).toEqual([])
})

test('a cell with several lines keeps them while it is edited; Alt Enter begins another', async ({ page }) => {
  const wrong = complaints(page)
  await ownSheets(page)
  await paste(page, 'Name\tRole\nIo\t"What the marsh\nremembers"\nTam\tDiver\n')
  await cell(page, 'What the marsh ⏎ remembers').dblclick()
  const editor = page.getByTestId('grid').getByRole('textbox', { name: 'Role' })
  await expect(editor).toHaveValue('What the marsh\nremembers')
  await editor.press('End')
  await page.keyboard.type('!')
  await page.keyboard.press('Enter')
  await expect(cell(page, 'What the marsh ⏎ remembers!')).toBeVisible()
  await cell(page, 'Diver').dblclick()
  await editor.press('Home')
  await page.keyboard.type('Rope')
  await page.keyboard.press('Alt+Enter')
  await page.keyboard.type('and ')
  await page.keyboard.press('Enter')
  await expect(cell(page, 'Rope ⏎ and Diver')).toBeVisible()
  // Escape leaves it as it was.
  await cell(page, 'Rope ⏎ and Diver').dblclick()
  await page.keyboard.press('Alt+Enter')
  await page.keyboard.press('Escape')
  await expect(cell(page, 'Rope ⏎ and Diver')).toBeVisible()
  // The form beside it has its lines too.
  await cell(page, 'Tam').click()
  const role = page.getByLabel('Role of row 2')
  await expect(role).toHaveValue('Rope\nand Diver')
  await role.press('End')
  await page.keyboard.press('Enter')
  await page.keyboard.type('by night')
  await expect(cell(page, 'Rope ⏎ by night')).toHaveCount(0)
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible()
  await page.reload()
  await expect(cell(page, 'Rope ⏎ and Diver')).toBeVisible()
  expect(wrong).toEqual([])
})

test('numbers: emptied they stay as they were, a minus is one, with Enter as with Tab', async ({ page }) => {
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await page
    .getByRole('listitem')
    .filter({ hasText: /^\d+Platebox/ })
    .getByRole('button')
    .first()
    .click()
  await page.getByRole('tab', { name: 'Style' }).click()
  const shift = page.getByLabel('Shift across')
  for (const [typed, key, value] of [
    ['-5', 'Enter', '-5'],
    ['', 'Enter', '-5'],
    ['−7', 'Enter', '-7'],
    ['', 'Tab', '-7'],
    ['-6,5', 'Tab', '-6.5'],
    ['1e3', 'Enter', '-6.5'],
  ] as const) {
    await shift.click()
    await shift.press('Control+a')
    await page.keyboard.press('Delete')
    await page.keyboard.type(typed)
    await page.keyboard.press(key)
    await expect(shift).toHaveValue(value)
  }
  await saved(page)
})

test('a page of what is not there says so, and leads back; one that is out of reach is tried again', async ({
  page,
}) => {
  for (const [path, what] of [
    ['/t/nobody/draft', "This template isn't there"],
    ['/t/nobody/handoff', "This template isn't there"],
    ['/t/nobody/carries', "This template isn't there"],
    ['/t/nobody/fill', "This template isn't there"],
    ['/t/nobody/outputs', "This template isn't there"],
    ['/t/nobody/outputs/new', "This template isn't there"],
    ['/t/speaker/fill/99999', "This sheet isn't there"],
    ['/t/speaker/outputs/99999', "This output isn't there"],
    ['/t/speaker/nowhere', 'There is no page at this address'],
  ] as const) {
    await page.goto(path)
    await expect(page.getByText(what, { exact: true })).toBeVisible()
    await expect(page.getByRole('link', { name: 'To the Shelf' })).toHaveAttribute('href', '/')
  }
  for (const path of ['/t/speaker/draft', '/t/speaker/handoff', '/t/speaker/fill', '/']) {
    await page.goto('/')
    await page.route('**/api/templates**', (route) => route.abort('connectionrefused'))
    await page.goto(path)
    await expect(page.getByText('Hoja does not answer', { exact: true })).toBeVisible()
    await page.unroute('**/api/templates**')
    await page.getByRole('button', { name: 'Try again' }).click()
    await expect(page.getByText('Hoja does not answer', { exact: true })).toHaveCount(0)
    await expect(page.getByText('Speaker').first()).toBeVisible()
  }
})

test('a sheet is named as the one that knows how names are spelled; a slip is put right with one press', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownSheets(page)
  await paste(page, 'Name\tRole\nMaren Oduya-Castellví\tVado Institute\n')
  await expect(page.getByText('of 1 row')).toBeVisible()
  await page.goto(`/t/${id}/fill`)
  await page.getByRole('button', { name: 'As known names' }).click()
  await expect(page.getByRole('button', { name: 'Known names', pressed: true })).toBeVisible()
  await paste(page, 'Name\tRole\nMaren Oduya-Castellvi\tVado Institut\nIo\tPilot\n')
  await expect(page.getByText('1 look')).toBeVisible()
  await expect(page.getByText('Name is nearly "Maren Oduya-Castellví", as the known names have it')).toBeVisible()
  await page.getByRole('button', { name: /^Tidy 1 row/ }).click()
  await expect(cell(page, 'Maren Oduya-Castellví')).toBeVisible()
  await expect(cell(page, 'Vado Institute')).toBeVisible()
  await expect(page.getByText('2 fine')).toBeVisible()
  await page.goto(`/t/${id}/fill`)
  await page.getByRole('button', { name: 'Known names', pressed: true }).click()
  await expect(page.getByRole('button', { name: 'As known names' })).toHaveCount(2)
  expect(wrong).toEqual([])
})

test('one JSON document is one row; its list is offered, a path can be given when nothing else can be read', async ({
  page,
}) => {
  await ownSheets(page)
  const bring = (name: string, value: unknown) =>
    page
      .getByLabel('Data file')
      .setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(value)) })
  await bring('one.json', { name: 'Io', role: 'Pilot', talks: [{ title: 'Eels' }, { title: 'Mud' }] })
  await expect(page.getByRole('button', { name: 'Bring in 1 row' })).toBeVisible()
  await expect(page.getByLabel('Rows', { exact: true })).toContainText(
    'the document itself (1 row: name, role, talks, matches 2 fields)',
  )
  await page.getByRole('button', { name: 'Cancel' }).click()
  await bring('list.json', { made: 'today', crew: [{ name: 'Io' }, { name: 'Tam' }] })
  await expect(
    page.getByText(/^The document as one row matches nothing .* so the rows are those of \$\['crew'\]\.$/),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: 'Bring in 2 rows' })).toBeVisible()
  await page.getByRole('button', { name: 'Cancel' }).click()
  await bring('deep.json', [[{ name: 'Io' }], [{ name: 'Tam' }]])
  await page.getByLabel('Path').fill('$[*][*]')
  await page.getByLabel('Path').press('Enter')
  await expect(page.getByRole('button', { name: 'Bring in 2 rows' })).toBeEnabled()
})

test('what is followed is read again when it is asked for', async ({ page, server }) => {
  const id = await ownSheets(page)
  writeFileSync(`${server.data}/followed/again.csv`, 'name,role\nIo,Pilot\n')
  const { versions } = (await (await page.request.get(`/api/templates/${id}`)).json()) as { versions: { id: number }[] }
  const link = { kind: 'file', root: 'followed', path: 'again.csv', options: {} }
  const sheet = (await (
    await page.request.post('/api/links', { data: { version: versions[0]!.id, name: 'Again', link } })
  ).json()) as { id: number }
  await page.goto(`/t/${id}/fill/${sheet.id}`)
  await expect(page.getByText('1 fine')).toBeVisible()
  await page.getByRole('button', { name: 'Read again' }).click()
  await expect(page.getByText('Read again; the rows are as they are there now.')).toBeVisible()
})

test('a choice is offered what its options can set, and nothing that is refused', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  await expect(editorsForm(page)).toBeVisible()
  await page.getByRole('button', { name: '+ Choice' }).click()
  const join = page.getByRole('button', { name: '+ drives too' })
  const offered = page.getByRole('complementary', { name: 'What can be exposed' })
  await join.click()
  const plate = offered.getByRole('region', { name: 'Part Plate' })
  const expose = plate.getByRole('button', { name: /^Expose / })
  const count = await expose.count()
  expect(count).toBeGreaterThan(8)
  await expect(plate.getByRole('button', { name: /Expose (Rotation|Only a matte)/ })).toHaveCount(0)
  for (let n = count - 1; n >= 0; n--) {
    const name = (await expose.nth(n).getAttribute('aria-label'))!.replace(/^Expose (.*) of Plate$/, '$1')
    await expose.nth(n).focus()
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: new RegExp(`^Let go of \\d+ Plate: ${name}$`) })).toBeVisible()
    if (n > 0) await join.click()
  }
  await saved(page)
  expect(wrong).toEqual([])
})

test('a column says how it writes numbers: guessed from all of it, chosen where nothing is', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto('/t/tide/fill')
  await expect(page.getByText('Drop a sheet here')).toBeVisible()
  await paste(page, 'Station\tHeight\nVado\t1,204\nEel Quay\t1\n')
  await expect(page.getByText('of 2 rows')).toBeVisible()
  const told = page.getByText('Height "1,204" is read as 1.204 and could be meant as 1204')
  await expect(told).toBeVisible()
  await page.getByRole('button', { name: /^Columns/ }).click()
  const marks = page.getByRole('dialog').getByLabel('How Height writes numbers')
  await expect(marks).toHaveValue('')
  await marks.selectOption({ label: 'numbers as 1.204,5' })
  await page.getByRole('button', { name: 'Use this match' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(told).toHaveCount(0)
  await cell(page, '1,204').click()
  await expect(page.getByLabel('Height of row 1')).toHaveValue('1.204')
  // A column in which one number can be read in one way only.
  await page.goto('/t/tide/fill')
  await expect(page.getByText('Drop a sheet here')).toBeVisible()
  await paste(page, 'Station\tHeight\nVado\t1,204\nEel Quay\t0,9\n')
  await expect(page.getByText('of 2 rows')).toBeVisible()
  await page.getByRole('button', { name: /^Columns/ }).click()
  await expect(marks).toHaveValue(',')
  await page.keyboard.press('Escape')
  await expect(told).toHaveCount(0)
  expect(wrong).toEqual([])
})

test('no picture is a choice of the form, and a word in the sheet', async ({ page }) => {
  const wrong = complaints(page)
  await ownSheets(page)
  await paste(page, 'Name\tRole\tMark\nIo\tPilot\tgull.png\n')
  await expect(page.getByText('of 1 row')).toBeVisible()
  await cell(page, 'Pilot').click()
  const form = page.getByRole('region', { name: 'Row 1', exact: true })
  const drawn = form.locator('canvas').first()
  const withMark = await drawn.screenshot()
  await form.getByLabel('Mark of row 1').selectOption({ label: 'none' })
  await expect(cell(page, 'none')).toBeVisible()
  await expect.poll(async () => (await drawn.screenshot()).equals(withMark)).toBe(false)
  await expect(form.getByText('Mount stands empty.')).toBeVisible()
  expect(wrong).toEqual([])
})

test('a row can say its language; a text may part its words, and the frame stays while the rules are read', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  await form.getByRole('button', { name: '+ Language' }).click()
  await expect(form.getByText('4 fields')).toBeVisible()
  await expect(form.getByRole('button', { name: '+ Language' })).toHaveCount(0)
  await expect(page.getByText('The language of all words in the title; each row may say its own.')).toBeVisible()
  await page.getByRole('tab', { name: 'Advice' }).click()
  await expect(page.getByText('Language drives nothing')).toHaveCount(0)
  const language = form.getByRole('combobox', { name: 'Language' })
  await language.fill('no tag!')
  await language.press('Enter')
  await expect(language).toHaveValue('en')
  await language.fill('de')
  await language.press('Enter')
  await expect(form.locator('span').filter({ hasText: /^German$/ })).toBeVisible()
  await saved(page)
  await openDraft(page, id)
  await choose(page, 'Role')
  await page.getByRole('tab', { name: 'Style' }).click()
  await page.getByRole('checkbox', { name: 'Parts words' }).check()
  await expect(page.getByTestId('frame')).toBeVisible()
  await saved(page)
  await page.reload()
  await choose(page, 'Role')
  await page.getByRole('tab', { name: 'Style' }).click()
  await expect(page.getByRole('checkbox', { name: 'Parts words' })).toBeChecked()
  expect(wrong).toEqual([])
})
