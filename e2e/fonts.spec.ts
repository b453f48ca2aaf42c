import type { Template, TextPart } from '@hoja/core/template'
import { choose, complaints, openDraft, ownTemplate, saved } from './pages.ts'
import { expect, type Page, test } from './test.ts'

async function stored(page: Page): Promise<Template> {
  await saved(page)
  const [, id] = /\/t\/([^/]+)\//.exec(page.url())!
  return ((await (await page.request.get(`/api/templates/${id}`)).json()) as { template: Template }).template
}

/** The font that the part Name is written in. */
async function fontOfName(page: Page): Promise<string> {
  const { parts, fonts } = await stored(page)
  const name = parts.flatMap((part) => [part, ...(part.parts ?? [])]).find((part) => part.name === 'Name') as TextPart
  const font = fonts.find(({ id }) => id === name.style.font)
  return `${font?.family} ${font?.style}`
}

test('a font is chosen by its face: searched, taken by the keyboard, brought as a file, undone in one step', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Name')
  await page.keyboard.press('Alt+2')
  const font = page.getByRole('button', { name: /^Font of Name/ })
  const list = page.getByRole('dialog', { name: 'Font of Name' })
  await font.click()
  // The template's own come first, the one that is used among them.
  await expect(list.getByRole('option').first()).toHaveText(/Barlow Condensed SemiBold$/)
  await page.keyboard.type('plex serif medium it')
  await expect(list.getByRole('option')).toHaveCount(1)
  await page.keyboard.press('Enter')
  await expect(font).toHaveText('IBM Plex Serif Medium Italic')
  expect(await fontOfName(page)).toBe('IBM Plex Serif Medium Italic')
  expect((await stored(page)).fonts).toHaveLength(6)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(font).toHaveText('Barlow Condensed SemiBold')
  expect((await stored(page)).fonts).toHaveLength(5)

  // What was taken last stands by itself; a family opens to its styles; Escape leaves all as it is.
  await font.click()
  await expect(page.getByText('Taken last')).toBeVisible()
  const archivo = list.getByRole('option', { name: /Archivo, \d+ styles/ })
  await archivo.click()
  await expect(archivo).toContainText('open')
  await expect(list.getByRole('option', { name: /Black$/ })).toBeVisible()
  await page.keyboard.type('no such font')
  await expect(page.getByText('No font is called that.')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(font).toHaveText('Barlow Condensed SemiBold')

  // A file of one's own is brought and taken; one that is no font is refused.
  await font.click()
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring a file …' }).click()
  await (await chooser).setFiles('demo/templates/species/fonts/IBMPlexSerif_400Regular_Italic.ttf')
  await expect(font).toHaveText('IBM Plex Serif Italic')
  expect(await fontOfName(page)).toBe('IBM Plex Serif Italic')
  // One that it carries already is taken, and not another.
  await font.click()
  const known = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring a file …' }).click()
  await (await known).setFiles('demo/templates/speaker/fonts/BarlowCondensed_500Medium.ttf')
  await expect(font).toHaveText('Barlow Condensed Medium')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(font).toHaveText('IBM Plex Serif Italic')
  await font.click()
  const again = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring a file …' }).click()
  await (await again).setFiles({ name: 'fake.ttf', mimeType: 'font/ttf', buffer: Buffer.from('no font at all') })
  await expect(page.getByText('"fake.ttf" is not a TrueType or OpenType font')).toBeVisible()
  expect(await fontOfName(page)).toBe('IBM Plex Serif Italic')
  expect(wrong).toEqual([])
})
