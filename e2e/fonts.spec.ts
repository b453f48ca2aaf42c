import type { TextPart } from '@hoja/core/template'
import { choose, complaints, openDraft, ownTemplate, stored } from './pages.ts'
import { expect, type Page, test } from './test.ts'

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

test('a variable font is set by its axes and moves along them', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Name')
  await page.keyboard.press('Home')
  await page.keyboard.press('Alt+2')
  const font = page.getByRole('button', { name: /^Font of Name/ })
  // A font that is not variable has no axes.
  const weight = page.getByRole('textbox', { name: 'Weight', exact: true })
  await expect(weight).toBeHidden()
  await font.click()
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring a file …' }).click()
  await (await chooser).setFiles(
    'node_modules/@fontsource-variable/roboto-flex/files/roboto-flex-latin-full-normal.woff2',
  )
  await expect(font).toHaveText('Roboto Flex Regular')
  await expect(weight).toHaveValue('400')

  const style = async () => {
    const { parts } = await stored(page)
    return (parts.flatMap((part) => [part, ...(part.parts ?? [])]).find(({ name }) => name === 'Name') as TextPart)
      .style
  }
  await weight.fill('900')
  await weight.press('Enter')
  expect((await style()).weight).toBe(900)
  // Between the font's own ends, and back to what the font is by itself.
  await weight.fill('5000')
  await weight.press('Enter')
  await expect(weight).toHaveValue('1000')
  await page.getByRole('button', { name: 'Weight as the font is' }).click()
  await expect(weight).toHaveValue('400')
  expect((await style()).weight).toBeUndefined()
  const slant = page.getByRole('textbox', { name: 'Slant', exact: true })
  await slant.fill('-8')
  await slant.press('Enter')
  expect((await style()).axes).toEqual([{ tag: 'slnt', value: -8 }])
  await page.getByRole('combobox', { name: 'More axes' }).selectOption({ index: 1 })
  expect((await style()).axes).toHaveLength(2)

  // It comes in light and grows heavy.
  await page.getByRole('tab', { name: 'Motion' }).click()
  await page.getByRole('combobox', { name: 'Key a channel', exact: true }).selectOption('Weight')
  await expect(page.getByRole('textbox', { name: 'Weight at the playhead' })).toBeVisible()
  await page.getByRole('combobox', { name: 'Key a channel', exact: true }).selectOption('Axis')
  await page.getByRole('combobox', { name: 'Axis of the font' }).selectOption('Grade')
  const { parts } = await stored(page)
  const name = parts.flatMap((part) => [part, ...(part.parts ?? [])]).find((part) => part.name === 'Name') as TextPart
  expect(Object.keys(name.motion.tracks)).toEqual(expect.arrayContaining(['weight', 'axis']))
  expect(name.motion.tracks.axis?.tag).toBe('GRAD')
  expect(wrong).toEqual([])
})
