import type { Template } from '@hoja/core/template'
import { expect, type Page } from '@playwright/test'

/** A template of the test's own: one of the demo's, once more, so that tests don't meet in one draft. */
export async function ownTemplate(page: Page, of = 'speaker'): Promise<string> {
  const response = await page.request.post(`/api/templates/${of}/duplicate`)
  expect(response.ok()).toBe(true)
  return ((await response.json()) as { id: string }).id
}

/** Opens a template in Draft and waits until it is drawn. */
export async function openDraft(page: Page, id: string): Promise<void> {
  await page.goto(`/t/${id}/draft`)
  await expect(page.getByTestId('frame')).toBeVisible()
}

/** The template that is open, as it is kept once it is saved. */
export async function stored(page: Page): Promise<Template> {
  await saved(page)
  const [, id] = /\/t\/([^/]+)\//.exec(page.url())!
  return ((await (await page.request.get(`/api/templates/${id}`)).json()) as { template: Template }).template
}

/** Chooses a part in the parts list. */
export async function choose(page: Page, name: string): Promise<void> {
  await page
    .getByRole('listitem')
    .filter({ hasText: new RegExp(`^\\d+${name}(text|box|picture|group|ellipse)`) })
    .getByRole('button')
    .first()
    .click()
}

/** On Hand-off: makes a property a field. */
export async function expose(page: Page, property: string, part: string): Promise<void> {
  await expect(editorsForm(page)).toBeVisible()
  const more = page.getByRole('button', { name: `More of ${part}`, exact: true })
  if (await more.isVisible()) await more.click()
  await page.getByRole('button', { name: `Expose ${property} of ${part}`, exact: true }).click()
}

/** On Hand-off: the form as the editor sees it. */
export const editorsForm = (page: Page) => page.getByRole('complementary', { name: "The editor's form" })

/** The value that the edges table shows for a line. */
export async function edgeValue(page: Page, line: string, part: string): Promise<number> {
  const row = page
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name: `${line} of ${part}`, exact: true }) })
  return Number((await row.getByRole('cell').last().textContent())!.replaceAll(',', ''))
}

export const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: /^saved/ })).toBeVisible()

/** Copies a text as another program does, and pastes it with the keyboard wherever the focus is. */
export async function paste(page: Page, text: string): Promise<void> {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.evaluate((plain) => navigator.clipboard.writeText(plain), text)
  await page.keyboard.press('Control+v')
}

/** Chooses from an open menu as a hand does: the pointer has reached the entry before it is pressed. */
export async function chooseSlowly(page: Page, entry: string): Promise<void> {
  const item = page.getByRole('menuitem', { name: entry })
  await item.hover()
  await expect(item).toHaveAttribute('data-highlighted', '')
  await page.mouse.down()
  await page.mouse.up()
}

/** Everything a page complains about, to be empty at the end of a test. */
export function complaints(page: Page): string[] {
  const list: string[] = []
  page.on('pageerror', (error) => list.push(error.message))
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of (409|4\d\d)/.test(message.text())) list.push(message.text())
  })
  return list
}

/** In Draft: what the check of a proof says in words. */
export const proofSays = (page: Page, proof: string, words: RegExp) =>
  expect(
    page
      .getByRole('complementary', { name: 'Proofs' })
      .getByRole('button', { name: new RegExp(`\\d ${proof}`) })
      .first(),
  ).toContainText(words)
