import AxeBuilder from '@axe-core/playwright'
import type { Part, Template } from '@hoja/core/template'
import { choose, complaints, openDraft, ownTemplate, saved } from './pages.ts'
import { expect, type Page, test } from './test.ts'

async function partOf(page: Page, name: string): Promise<Part> {
  await saved(page)
  const [, id] = /\/t\/([^/]+)\//.exec(page.url())!
  const { template } = (await (await page.request.get(`/api/templates/${id}`)).json()) as { template: Template }
  return template.parts.flatMap((part) => [part, ...(part.parts ?? [])]).find((part) => part.name === name)!
}

test('a style and a motion are copied from part to part, whole or line by line', async ({ page }) => {
  const wrong = complaints(page)
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await openDraft(page, await ownTemplate(page))
  const name = await partOf(page, 'Name')
  await choose(page, 'Name')
  await page.keyboard.press('Control+c')
  await choose(page, 'Role')
  await page.keyboard.press('Control+Shift+v')
  await expect.poll(async () => (await partOf(page, 'Role')).style).toMatchObject({ size: 78 })
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  // Line by line, from the menu where the pointer is.
  await page.getByRole('button', { name: /Role/ }).first().click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Paste chosen lines of the style …' }).click()
  const dialog = page.getByRole('dialog', { name: 'Lines of the style of Name' })
  const ticked = dialog.getByRole('checkbox', { checked: true })
  while ((await ticked.count()) > 0) await ticked.first().uncheck()
  await dialog.getByRole('checkbox', { name: 'Colour' }).check()
  await dialog.getByRole('button', { name: 'Paste 1 line' }).click()
  await expect(dialog).toHaveCount(0)
  const role = await partOf(page, 'Role')
  expect((role.style as { colour: string }).colour).toBe((name.style as { colour: string }).colour)
  expect((role.style as { size: number }).size).not.toBe(78)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('paste the motion')
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await partOf(page, 'Role')).motion).toEqual(name.motion)
  expect(wrong).toEqual([])
})

test('a style gets a name: it is on the shelf for every template, travels with its own, and is taken by a press', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Plate')
  await page.keyboard.press('Alt+2')
  await page.getByRole('button', { name: 'Styles', exact: true }).click()
  const library = page.getByRole('dialog', { name: 'Styles' })
  await expect(library.getByRole('region', { name: 'Ready' }).getByRole('img')).toHaveCount(5)
  expect((await new AxeBuilder({ page }).include('[role=dialog]').analyze()).violations).toEqual([])
  await library.getByRole('button', { name: 'Rounded' }).first().click()
  await expect.poll(async () => (await partOf(page, 'Plate')).style).toMatchObject({ radiusTopLeft: 14 })
  await library.getByLabel('Name of the new style').fill('Round plate')
  await page.keyboard.press('Enter')
  await expect(library.getByRole('region', { name: 'Of this template' })).toContainText('Round plate')
  await page.keyboard.press('Escape')

  // Another template has it from the shelf, with the colours that it uses.
  await openDraft(page, 'speaker-rtl')
  await choose(page, 'Plate')
  await page.keyboard.press('Alt+2')
  await page.getByRole('button', { name: 'Styles', exact: true }).click()
  const kept = library.getByRole('region', { name: 'On the shelf' })
  await expect(kept.getByRole('img', { name: /with the style Round plate$/ })).toBeVisible()
  await kept.getByRole('button', { name: 'Remove the style Round plate' }).click()
  await expect(kept).toHaveCount(0)
  expect(wrong).toEqual([])
})
