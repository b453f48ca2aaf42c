import { readFileSync } from 'node:fs'
import type { Route } from '@playwright/test'
import { zipSync } from 'fflate'
import { complaints, openDraft, ownTemplate, saved } from './pages.ts'
import { expect, test } from './test.ts'

/** What another version of the server would answer. A page that has moved on waits for no answer. */
async function asAnother(route: Route): Promise<void> {
  // A stream of news has no end, and so no answer that could be waited for.
  if (/\/(events|news)$/.test(new URL(route.request().url()).pathname)) return route.continue()
  try {
    const response = await route.fetch()
    await route.fulfill({ response, headers: { ...response.headers(), 'x-hoja-build': 'another' } })
  } catch (error) {
    if (!/disposed|closed|handled|navigat|ended|Timeout/i.test((error as Error).message)) throw error
  }
}

// What is still on its way belongs to no test that comes later.
test.afterEach(({ page }) => page.unrouteAll({ behavior: 'ignoreErrors' }))

test('the Shelf backs up, says what is in it, and by what words it comes back', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'Back up' }).click()
  const dialog = page.getByRole('dialog', { name: 'Back up' })
  await expect(dialog.getByText(/^\d+ templates with \d+ versions, .+ MB$/).first()).toBeVisible()
  await dialog.getByRole('button', { name: 'Back up now' }).click()
  await expect(dialog.getByText('The backup is there.')).toBeVisible()
  await expect(dialog.getByText(/hoja restore .+-backup --data NEW-FOLDER/)).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  expect(wrong).toEqual([])
})

test('an open page is told when the server is another version, and loses nothing by reloading', async ({ page }) => {
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await saved(page)
  // From now on another version answers; what it is asked it does as before.
  await page.route('**/api/**', async (route) => {
    await asAnother(route)
  })
  await page.getByRole('button', { name: /^\d+ × \d+$/ }).click()
  const frame = page.getByRole('dialog', { name: 'Template and frame' })
  await frame.getByLabel('What it is for').fill('Typed while Hoja was brought up to date')
  await frame.getByRole('button', { name: 'Change it' }).click()
  const offer = page.getByText('Hoja was brought up to date meanwhile.')
  await expect(offer).toBeVisible()
  await page.getByRole('button', { name: 'Reload' }).click()
  await expect(offer).toHaveCount(0)
  await expect(page.getByTestId('frame')).toBeVisible()
  await page.getByRole('button', { name: /^\d+ × \d+$/ }).click()
  await expect(frame.getByLabel('What it is for')).toHaveValue('Typed while Hoja was brought up to date')
})

test('a page whose draft can not be saved is not reloaded', async ({ page }) => {
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await saved(page)
  await page.route('**/api/**', async (route) => {
    if (route.request().method() === 'PUT') return route.abort()
    await asAnother(route)
  })
  await page.getByRole('button', { name: /^\d+ × \d+$/ }).click()
  const frame = page.getByRole('dialog', { name: 'Template and frame' })
  await frame.getByLabel('What it is for').fill('Not saved yet')
  await frame.getByRole('button', { name: 'Change it' }).click()
  // Wherever something is asked for next, the answer tells.
  await page.getByRole('link', { name: 'Fill', exact: true }).click()
  await expect(page.getByText('Hoja was brought up to date meanwhile.')).toBeVisible()
  await page.getByRole('button', { name: 'Reload' }).click()
  await expect(page.getByText(/could not be saved yet, so the page was not reloaded/)).toBeVisible()
  await page.getByRole('link', { name: 'Draft', exact: true }).click()
  await page.getByRole('button', { name: /^\d+ × \d+$/ }).click()
  await expect(frame.getByLabel('What it is for')).toHaveValue('Not saved yet')
  // What is still on its way is nobody's any more.
})

test('a sheet with what spreadsheets would run is saved so that they don’t, and it is said', async ({ page }) => {
  const id = await ownTemplate(page)
  const { versions } = (await (await page.request.get(`/api/templates/${id}`)).json()) as { versions: { id: number }[] }
  const version =
    versions[0]?.id ??
    ((await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()) as { id: number }).id
  const table = [
    ['name', 'role'],
    ['=HYPERLINK("http://evil.example")', 'Pilot'],
    ['Io', '-5'],
  ]
  const sheet = (await (
    await page.request.post('/api/sheets', { data: { version, name: 'Guests', table } })
  ).json()) as {
    id: number
  }
  await page.goto(`/t/${id}/fill/${sheet.id}`)
  const save = async (entry: string) => {
    await page.getByRole('button', { name: 'More' }).click()
    const coming = page.waitForEvent('download')
    await page.getByRole('menuitem', { name: entry, exact: true }).click()
    return readFileSync(await (await coming).path(), 'utf8')
  }
  expect(await save('Save as CSV')).toContain(`"'=HYPERLINK(`)
  await expect(page.getByText('1 cell begins like a formula.')).toBeVisible()
  expect(await save('Save as CSV, formulas as they are')).toContain(`"=HYPERLINK(`)
})

test('a template that was exported with its versions comes back with them', async ({ page }) => {
  const id = await ownTemplate(page)
  const get = async (path: string) => new Uint8Array(await (await page.request.get(path)).body())
  const state = async () =>
    (await (await page.request.get(`/api/templates/${id}`)).json()) as {
      revision: number
      template: object
      versions: { id: number; number: number }[]
    }
  const publish = async () =>
    ((await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()) as { id: number }).id
  const note = async (words: string) => {
    const { revision, template } = await state()
    await page.request.put(`/api/templates/${id}`, { data: { revision, template: { ...template, note: words } } })
  }
  await note('the first state')
  const first = await publish()
  await note('the second state')
  const second = await publish()
  await note('not published')
  const exported = zipSync({
    'own/own.hoja': await get(`/api/templates/${id}/package`),
    'own/own-version-2.hoja': await get(`/api/versions/${second}/package`),
    'own/own-version-1.hoja': await get(`/api/versions/${first}/package`),
  })
  await page.goto('/')
  await page
    .getByLabel('Template package')
    .setInputFiles({ name: 'all.zip', mimeType: 'application/zip', buffer: Buffer.from(exported) })
  const end = page.getByRole('dialog', { name: '1 of 1 taken in' })
  await expect(end.getByText(/is on the shelf with 2 versions\./)).toBeVisible()
  const all = (await (await page.request.get('/api/templates')).json()) as {
    id: string
    note: string
    version: number
  }[]
  const back = all.find((one) => one.note === 'not published' && one.id !== id)!
  expect(back.version).toBe(2)
  const { versions } = (await (await page.request.get(`/api/templates/${back.id}`)).json()) as Awaited<
    ReturnType<typeof state>
  >
  const notes = []
  for (const version of versions) {
    const { content } = (await (await page.request.get(`/api/versions/${version.id}`)).json()) as {
      content: { note: string }
    }
    notes.push(content.note)
  }
  expect(notes).toEqual(['the second state', 'the first state'])
})
