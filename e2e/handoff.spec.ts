import { expect, test } from '@playwright/test'
import { complaints, ownTemplate, saved } from './pages.ts'

interface Stored {
  template: {
    fields: {
      id: string
      key: string
      name: string
      required: boolean
      limit?: number
      section?: string
      targets: { part: string; property: string }[]
    }[]
    parts: { id: string; look: Record<string, unknown> }[]
  }
  versions: { number: number; note: string }[]
  ahead: boolean
}

test('a field is named, limited, ordered, keyed and locked again; the form shows it as the editor will see it', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  const stored = async () => (await (await page.request.get(`/api/templates/${id}`)).json()) as Stored
  await page.goto(`/t/${id}/handoff`)
  const form = page.getByRole('complementary').filter({ hasText: "The editor's form" })
  await expect(form.getByText('3 fields')).toBeVisible()

  // Name, key, limit.
  await form.getByRole('button', { name: 'Role', exact: true }).click()
  await expect(page.getByText('Drives 3 Role: Text.')).toBeVisible()
  await page.getByLabel('Name', { exact: true }).first().fill('What they do')
  await expect(form.getByRole('button', { name: 'What they do', exact: true })).toBeVisible()
  await page.getByLabel('Characters').fill('12')
  await page.getByLabel('Characters').press('Enter')
  await expect(form.getByText('36 of 12')).toBeVisible()
  await page.getByLabel('Required').check()

  // A key that another field has is refused, and the old one stands.
  await page.getByLabel('Key').fill('name')
  await page.getByLabel('Key').press('Tab')
  await expect(page.getByText('The key "name" is taken by the field "Name"')).toBeVisible()
  await expect(page.getByLabel('Key')).toHaveValue('role')
  await page.getByLabel('Key').fill('Not A Key')
  await page.getByLabel('Key').press('Tab')
  await expect(page.getByLabel('Key')).toHaveValue('role')

  // Order: the second comes first.
  await form.getByRole('button', { name: 'What they do earlier' }).click()
  await saved(page)
  expect((await stored()).template.fields.map((f) => f.name)).toEqual(['What they do', 'Name', 'Mark'])
  expect((await stored()).template.fields[0]).toMatchObject({
    key: 'role',
    required: true,
    limit: 12,
    section: 'words',
  })

  // The form fills the frame while it is tried, and goes back.
  await form.getByRole('textbox', { name: 'Name', exact: true }).fill('Io')
  await form.getByRole('button', { name: 'Back to the defaults' }).click()
  await expect(form.getByRole('textbox', { name: 'Name', exact: true })).toHaveValue('Maren Oduya-Castellví')

  // Exposing a property, then locking it: the part keeps its own value.
  await page.getByRole('button', { name: 'Expose Colour of Name' }).click()
  await expect(page.getByText('Drives 2 Name: Colour.')).toBeVisible()
  await expect(form.getByText('4 fields')).toBeVisible()
  await page.getByRole('button', { name: 'Lock it again' }).click()
  await expect(form.getByText('3 fields')).toBeVisible()
  await saved(page)
  expect((await stored()).template.fields).toHaveLength(3)
  expect(wrong).toEqual([])
})

test('a text’s own words become a field, and its default when it is locked again', async ({ page }) => {
  const id = await ownTemplate(page)
  const stored = async () => (await (await page.request.get(`/api/templates/${id}`)).json()) as Stored
  const content = async () => JSON.stringify((await stored()).template.parts)
  await page.goto(`/t/${id}/handoff`)
  const form = page.getByRole('complementary').filter({ hasText: "The editor's form" })
  await form.getByRole('button', { name: 'Role', exact: true }).click()
  await page.getByRole('button', { name: 'Lock it again' }).click()
  await expect(form.getByText('2 fields')).toBeVisible()
  await saved(page)
  expect(await content()).toContain('"text":"Salt-marsh ecologist, Vado Institute"')
  await page.getByRole('button', { name: 'Expose Text of Role' }).click()
  await expect(form.getByRole('textbox', { name: 'Role', exact: true })).toHaveValue(
    'Salt-marsh ecologist, Vado Institute',
  )
  await saved(page)
  const { fields } = (await stored()).template
  expect(fields.find((f) => f.name === 'Role')).toMatchObject({ key: 'role', targets: [] })
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(form.getByText('2 fields')).toBeVisible()
})

test('versions are published one after another with their notes; nothing new, nothing to publish', async ({ page }) => {
  const id = await ownTemplate(page)
  const stored = async () => (await (await page.request.get(`/api/templates/${id}`)).json()) as Stored
  await page.goto(`/t/${id}/handoff`)
  await expect(page.getByText('Not published yet.')).toBeVisible()
  await page.getByRole('button', { name: 'Publish version 1' }).click()
  await page.getByLabel('What is new').fill('First light')
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Version 1 is published' })).toBeDisabled()
  await expect(page.getByText('First light')).toBeVisible()
  await page.getByRole('button', { name: 'Role', exact: true }).click()
  await page.getByLabel('Note', { exact: true }).fill('Shorter, please.')
  await saved(page)
  await page.getByRole('button', { name: 'Publish version 2' }).click()
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Version 2 is published' })).toBeDisabled()
  expect((await stored()).versions.map((v) => [v.number, v.note])).toEqual([
    [2, ''],
    [1, 'First light'],
  ])
  // Both stand as they were published.
  await page.goto(`/t/${id}/fill`)
  await expect(page.getByRole('heading', { name: /version 2$/ })).toBeVisible()
})
