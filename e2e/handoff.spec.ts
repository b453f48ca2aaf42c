import type { Template } from '@hoja/core/template'
import { drag } from './hand.ts'
import { complaints, editorsForm, expose, ownTemplate, saved } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const stored = async (page: Page, id: string): Promise<Template> =>
  ((await (await page.request.get(`/api/templates/${id}`)).json()) as { template: Template }).template

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
    parts: { id: string; style: Record<string, unknown> }[]
  }
  versions: { number: number; note: string }[]
  ahead: boolean
}

test('a field is named, limited, ordered, keyed and locked again; the form shows it as the editor will see it', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  const detail = async () => (await (await page.request.get(`/api/templates/${id}`)).json()) as Stored
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  await expect(form.getByText('3 fields')).toBeVisible()

  // Name, key, limit.
  await form.getByRole('button', { name: 'Role', exact: true }).click()
  await expect(page.getByLabel('Kind of field')).toHaveValue('text')
  await expect(page.getByText('3 Role: Text')).toBeVisible()
  const editor = page.getByRole('main')
  await editor.getByLabel('Name', { exact: true }).fill('What they do')
  await expect(form.getByRole('button', { name: 'What they do', exact: true })).toBeVisible()
  await page.getByLabel('Characters').fill('12')
  await page.getByLabel('Characters').press('Enter')
  await expect(form.getByText('36 of 12')).toBeVisible()
  await expect(form.getByText('It has 36 characters, 24 more than the 12 allowed; shorten it.')).toBeVisible()
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
  expect((await detail()).template.fields.map((f) => f.name)).toEqual(['What they do', 'Name', 'Mark'])
  expect((await detail()).template.fields[0]).toMatchObject({
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
  await expose(page, 'Colour', 'Name')
  await expect(page.getByText('2 Name: Colour')).toBeVisible()
  await expect(form.getByText('4 fields')).toBeVisible()
  await page.getByRole('button', { name: 'Lock it again' }).click()
  await expect(form.getByText('3 fields')).toBeVisible()
  await saved(page)
  expect((await detail()).template.fields).toHaveLength(3)
  expect(wrong).toEqual([])
})

test('a text’s own words become a field, and its default when it is locked again', async ({ page }) => {
  const id = await ownTemplate(page)
  const detail = async () => (await (await page.request.get(`/api/templates/${id}`)).json()) as Stored
  const content = async () => JSON.stringify((await detail()).template.parts)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
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
  const { fields } = (await detail()).template
  expect(fields.find((f) => f.name === 'Role')).toMatchObject({ key: 'role', targets: [] })
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(form.getByText('2 fields')).toBeVisible()
})

test('versions are published one after another with their notes; nothing new, nothing to publish', async ({ page }) => {
  const id = await ownTemplate(page)
  const detail = async () => (await (await page.request.get(`/api/templates/${id}`)).json()) as Stored
  await page.goto(`/t/${id}/handoff`)
  await page.getByRole('tab', { name: 'Versions' }).click()
  await expect(page.getByText('Not published yet.')).toBeVisible()
  await page.getByRole('button', { name: 'Publish version 1' }).click()
  await page.getByLabel('What is new').fill('First light')
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Version 1 is published' })).toBeDisabled()
  await expect(page.getByText('First light')).toBeVisible()
  await editorsForm(page).getByRole('button', { name: 'Role', exact: true }).click()
  await page.getByLabel('Note', { exact: true }).fill('Shorter, please.')
  await saved(page)
  await page.getByRole('button', { name: 'Publish version 2' }).click()
  // What changed, in words, and in every proof.
  const dialog = page.getByRole('dialog')
  await expect(
    dialog.getByText('Role, note: "As it should read on air, no full stop." → "Shorter, please."'),
  ).toBeVisible()
  await expect(dialog.getByText(/^All \d+ proofs look the same, frame for frame\.$/)).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Version 2 is published' })).toBeDisabled()
  expect((await detail()).versions.map((v) => [v.number, v.note])).toEqual([
    [2, ''],
    [1, 'First light'],
  ])
  // Both stand as they were published.
  await page.goto(`/t/${id}/fill`)
  await expect(page.getByRole('heading', { name: /version 2$/ })).toBeVisible()
})

test('a property is dragged into the form where it shall stand, and fields are put in order by dragging and by keys', async ({
  page,
}) => {
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  const names = async () => (await stored(page, id)).fields.map((field) => field.name)
  await page.getByRole('button', { name: 'More of Plate', exact: true }).click()
  const row = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: 'Expose Opacity of Plate' }) })
  await drag(page, row, form.getByRole('group', { name: 'Role', exact: true }))
  await expect(form.getByText('4 fields')).toBeVisible()
  await saved(page)
  expect(await names()).toEqual(['Name', 'Plate opacity', 'Role', 'Mark'])
  // Dropped among the words, it stands in their section.
  expect((await stored(page, id)).fields[1]).toMatchObject({ section: 'words', type: 'number', min: 0, max: 1 })
  // One step back takes it out again.
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(form.getByText('3 fields')).toBeVisible()

  // E on the property, Alt and arrows on the field.
  await page.getByRole('button', { name: 'Expose Opacity of Plate' }).focus()
  await page.keyboard.press('e')
  await expect(form.getByText('4 fields')).toBeVisible()
  await form.getByRole('textbox', { name: 'Plate opacity' }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await page.keyboard.press('Alt+ArrowUp')
  await saved(page)
  await expect.poll(names).toEqual(['Name', 'Role', 'Plate opacity', 'Mark'])
  await drag(
    page,
    form.getByRole('group', { name: 'Mark', exact: true }).locator('span').first(),
    form.getByRole('group', { name: 'Name', exact: true }),
  )
  await expect.poll(names).toEqual(['Mark', 'Name', 'Role', 'Plate opacity'])
})

test('sections and comments: added, named, moved, removed; the fields stay', async ({ page }) => {
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  await form.getByRole('button', { name: '+ Section' }).click()
  await form.getByRole('textbox', { name: 'Name of the section' }).last().fill('Looks')
  await form.getByRole('button', { name: 'Looks earlier' }).click()
  await form.getByRole('button', { name: 'Role', exact: true }).click()
  await page.getByRole('main').getByLabel('Section').selectOption('Looks')
  await form.getByRole('button', { name: '+ Comment' }).click()
  await form.getByRole('textbox', { name: 'Comment' }).fill('As they introduce themselves.')
  await saved(page)
  const template = await stored(page, id)
  const looks = template.sections.find((section) => section.name === 'Looks')!
  expect(template.sections.map((section) => section.name)).toEqual(['Words', 'Looks', 'Pictures'])
  const role = template.fields.find((field) => field.name === 'Role')!
  expect(role.section).toBe(looks.id)
  expect(template.comments).toEqual([
    expect.objectContaining({ text: 'As they introduce themselves.', before: role.id }),
  ])
  await form.getByRole('button', { name: 'Remove the section Looks' }).click()
  await form.getByRole('button', { name: 'Remove the comment' }).click()
  await expect(form.getByRole('textbox', { name: 'Role' })).toBeVisible()
  await saved(page)
  const after = await stored(page, id)
  expect([after.sections.length, after.comments, after.fields.length]).toEqual([2, [], 3])
})

test('a choice sets several properties: a side moves the title to the other side of the frame', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  const editor = page.getByRole('main')
  await expose(page, 'Align', 'Role')
  await editor.getByLabel('Name', { exact: true }).fill('Side')
  await editor.getByRole('button', { name: 'As named' }).click()
  await expect(editor.getByLabel('Key')).toHaveValue('side')
  for (const option of ['middle', 'justified'])
    await editor.getByRole('button', { name: `Remove the option ${option}` }).click()
  await editor.getByLabel('Name of the option end').fill('Right')
  const part = editor.getByLabel('Part that the options set something of')
  await part.selectOption('Words')
  await editor.getByLabel('Property of Words that the options set').selectOption('Place across')
  // What would go round in a ring is refused, and nothing changes.
  await editor.getByRole('button', { name: 'Words: Place across, Right: tie it' }).click()
  await expect(page.getByText(/^That would tie parts in a ring: .*Words/)).toBeVisible()
  await editor.getByRole('button', { name: 'Set Words: Place across no longer' }).click()
  await part.selectOption('Edge')
  await editor.getByLabel('Property of Edge that the options set').selectOption('Place across')
  await editor.getByLabel('Edge: Place across, Right: edge of the target').selectOption('centre')
  await part.selectOption('Plate')
  await editor.getByLabel('Property of Plate that the options set').selectOption('Opacity')
  await editor.getByRole('textbox', { name: 'Plate: Opacity, Right' }).fill('60')
  await editor.getByRole('textbox', { name: 'Plate: Opacity, Right' }).press('Enter')
  await expect(editor.getByRole('region', { name: 'What the options change' })).toContainText(
    'Opacity of Plate: 100 % → 60 %',
  )
  // A gradient of its own, and another way to arrive.
  const property = editor.getByLabel('Property of Plate that the options set')
  await property.selectOption('Fill')
  await editor.getByLabel('Plate: Fill, Right', { exact: true }).selectOption('radial gradient')
  await property.selectOption('Movement')
  await editor.getByLabel('Plate: Movement, Right').selectOption('rise')
  await saved(page)
  const side = (await stored(page, id)).fields.find((field) => field.key === 'side')!
  expect(
    side.options!.map((option) => [option.value, option.name, option.sets.map((set) => `${set.part} ${set.property}`)]),
  ).toEqual([
    ['start', 'start', ['role align', 'edge x', 'plate opacity', 'plate fill', 'plate motion']],
    ['end', 'Right', ['role align', 'edge x', 'plate opacity', 'plate fill', 'plate motion']],
  ])
  const setBy = (property: string) => side.options![1]!.sets.find((set) => set.property === property)!.value
  expect(setBy('fill')).toMatchObject({ kind: 'radial' })
  expect(Object.keys((setBy('motion') as { tracks: object }).tracks)).toContain('shiftY')
  // Tried in the form: the frame follows.
  const box = page.getByRole('main').locator('svg g > rect').first()
  await form.getByRole('textbox', { name: 'Name', exact: true }).click()
  const left = (await box.boundingBox())!.x
  await form.getByRole('radio', { name: 'Right' }).click()
  await form.getByRole('textbox', { name: 'Name', exact: true }).click()
  await expect.poll(async () => (await box.boundingBox())!.x).toBeGreaterThan(left + 150)
  expect(wrong).toEqual([])
})

test('style, shift, colour, number and moment have their limits in the hand-off, and the form holds them', async ({
  page,
}) => {
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  const editor = page.getByRole('main')
  await expose(page, 'Size', 'Name')
  await expect(editor.getByLabel('Kind of field')).toHaveValue('style')
  await editor.getByLabel('Size, px, at most').fill('80')
  await editor.getByLabel('Size, px, at most').press('Enter')
  await editor.getByRole('checkbox', { name: 'Barlow Condensed Medium' }).check()
  await form.getByRole('textbox', { name: 'Size of Name style, px' }).fill('200')
  await form.getByRole('textbox', { name: 'Size of Name style, px' }).press('Enter')
  await expect(form.getByRole('textbox', { name: 'Size of Name style, px' })).toHaveValue('80')
  await form.getByLabel('Font of Name style').selectOption('Barlow Condensed Medium')

  await expose(page, 'Shift across', 'Name')
  await editor.getByLabel('Across, px, at most').fill('30')
  await editor.getByLabel('Across, px, at most').press('Enter')
  await form.getByRole('group', { name: 'Name shift across' }).getByLabel('across', { exact: true }).fill('99')
  await form.getByRole('group', { name: 'Name shift across' }).getByLabel('across', { exact: true }).press('Enter')
  await expect(
    form.getByRole('group', { name: 'Name shift across' }).getByLabel('across', { exact: true }),
  ).toHaveValue('30')

  await expose(page, 'Colour', 'Name')
  await form.getByRole('radiogroup', { name: 'Name colour' }).getByRole('radio').nth(3).click()
  await expect(form.getByLabel('Another colour for Name colour')).toHaveCount(0)
  await editor.getByLabel('Any colour').check()
  await expect(form.getByLabel('Another colour for Name colour')).toBeVisible()

  // One field drives two parts.
  await editor.getByRole('button', { name: '+ drives too' }).click()
  await page.getByRole('button', { name: 'Expose Colour of Role' }).click()
  await expect(editor.getByText('3 Role: Colour')).toBeVisible()
  await editor.getByRole('button', { name: 'Let go of 3 Role: Colour' }).click()
  await expect(editor.getByText('3 Role: Colour')).toHaveCount(0)
  await saved(page)
  const { fields } = await stored(page, id)
  expect(fields.find((f) => f.type === 'style')).toMatchObject({ sizes: [59, 80], fonts: ['medium'] })
  expect(fields.find((f) => f.type === 'shift')).toMatchObject({ reach: { x: [-200, 30], y: [-200, 200] } })
  expect(fields.find((f) => f.type === 'colour')).toMatchObject({ free: true })
})

test('a text becomes a number with its unit, or a moment by its pattern: the frame shows what they read', async ({
  page,
}) => {
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  const editor = page.getByRole('main')
  await form.getByRole('button', { name: 'Role', exact: true }).click()
  await editor.getByLabel('Kind of field').selectOption('number')
  await editor.getByLabel('Decimals').fill('2')
  await editor.getByLabel('Decimals').press('Enter')
  await editor.getByLabel('Unit behind the number, with its space').fill(' m')
  await form.getByRole('textbox', { name: 'Role', exact: true }).fill('3,4')
  await form.getByRole('textbox', { name: 'Role', exact: true }).press('Enter')
  await editor.getByRole('textbox', { name: 'Default of Role' }).fill('3.4')
  await editor.getByRole('textbox', { name: 'Default of Role' }).press('Enter')
  await expect(editor.getByText('Reads 3.40 m')).toBeVisible()
  await editor.getByLabel('Kind of field').selectOption('moment')
  await editor.getByLabel('Reads', { exact: true }).fill('EEEE d MMMM')
  await editor.getByLabel('Reads', { exact: true }).press('Enter')
  await editor.getByLabel('Language').selectOption('Español')
  await expect(editor.getByText(/^As in \p{L}+ \d+ \p{L}+$/u)).toBeVisible()
  await saved(page)
  expect((await stored(page, id)).fields.find((f) => f.key === 'role')).toMatchObject({
    type: 'moment',
    pattern: 'EEEE d MMMM',
    language: 'es',
  })
})

test('advice is given with its way out, and the poster is chosen on the frame', async ({ page }) => {
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = editorsForm(page)
  await form.getByRole('textbox', { name: 'Name', exact: true }).click()
  await page.getByLabel('Characters').fill('200')
  await page.getByLabel('Characters').press('Enter')
  await page.getByRole('tab', { name: 'Advice, 1' }).click()
  const advice = page.getByRole('list', { name: 'Advice' })
  await expect(advice.getByText(/^Name allows 200 characters, but the layout holds about \d+\.$/)).toBeVisible()
  await advice.getByRole('button', { name: /^Limit it to \d+$/ }).click()
  await expect(page.getByText('Nothing to say: named, limited, and what is allowed fits.')).toBeVisible()

  await form.getByRole('textbox', { name: 'Name', exact: true }).fill('Io Marrec')
  await page.keyboard.press('Tab')
  await page.getByRole('button', { name: 'Make it the poster' }).click()
  await expect(page.getByRole('button', { name: 'This is the poster' })).toBeDisabled()
  await saved(page)
  expect((await stored(page, id)).poster).toEqual({ frame: 15, values: { name: 'Io Marrec' } })
})
