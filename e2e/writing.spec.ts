import { choose, complaints, edgeValue, openDraft, ownTemplate, paste } from './pages.ts'
import { expect, type Page, test } from './test.ts'

/** An empty drawing, and where points of its frame (px) are on the screen. */
async function emptyDraft(page: Page) {
  await page.goto('/')
  await page.getByRole('button', { name: 'New template' }).click()
  await page.getByRole('dialog').getByLabel('Name').fill('Words')
  await page.getByRole('button', { name: 'Start drawing' }).click()
  await expect(page.getByText('Nothing is drawn yet')).toBeVisible()
  const frame = (await page.getByTestId('frame').boundingBox())!
  return (x: number, y: number): [number, number] => [
    frame.x + (x * frame.width) / 1920,
    frame.y + (y * frame.height) / 1080,
  ]
}
const words = (page: Page, name = 'Text 1') => page.getByRole('textbox', { name: `The words of ${name}` })
const caret = async (page: Page) => (await page.getByTestId('caret').boundingBox())!
const listed = (page: Page) => page.getByRole('complementary', { name: 'Parts' }).getByRole('listitem')

test('T and a click: words are written where they stand, and no letter is a shortcut meanwhile', async ({ page }) => {
  const wrong = complaints(page)
  const at = await emptyDraft(page)
  await page.keyboard.press('t')
  await page.mouse.click(...at(300, 500))
  await expect(words(page)).toBeFocused()
  const before = await caret(page)
  // Every letter of it is a shortcut elsewhere: group, hide, rulers, tools, solo.
  await page.keyboard.type('gHrbtesdomuv')
  await expect(words(page)).toHaveValue('gHrbtesdomuv')
  expect((await caret(page)).x).toBeGreaterThan(before.x + 40)
  await expect(listed(page)).toHaveCount(1)
  // A press puts the caret between letters, and what is typed goes there.
  await page.keyboard.press('Home')
  expect((await caret(page)).x).toBeCloseTo(before.x, 0)
  await page.keyboard.type('Io ')
  await expect(words(page)).toHaveValue('Io gHrbtesdomuv')
  await page.keyboard.press('Control+ArrowRight')
  await page.keyboard.press('Shift+Control+ArrowLeft')
  await page.keyboard.type('Marrec')
  await expect(words(page)).toHaveValue('Io Marrec')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Pilot')
  await expect(words(page)).toHaveValue('Io Marrec\nPilot')
  await page.keyboard.press('Escape')
  await expect(words(page)).toHaveCount(0)
  // The keys are the frame's again, and Enter puts the caret back.
  await page.keyboard.press('Enter')
  await expect(words(page)).toHaveValue('Io Marrec\nPilot')
  await page.keyboard.press('Escape')
  // By its name in the palette as well: the letters go to the text at once.
  await page.keyboard.press('Control+k')
  await page.keyboard.type('Write in the text')
  await page.keyboard.press('Enter')
  await expect(words(page)).toBeFocused()
  await page.keyboard.press('Escape')
  // The part and its first words are one step; what was written after the caret went elsewhere is another.
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await page.mouse.dblclick(...at(338, 512))
  await expect(words(page)).not.toHaveValue(/Pilot/)
  expect(wrong).toEqual([])
})

test('the caret is put by the mouse; words are chosen, styled, copied, pasted and undone where they stand', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  const at = await emptyDraft(page)
  await page.keyboard.press('t')
  await page.mouse.click(...at(300, 500))
  await page.keyboard.type('Harbour pilot')
  const { x: end, y, height } = await caret(page)
  await page.keyboard.press('Home')
  const { x: start } = await caret(page)
  const middle = y + height / 2
  // A double press chooses a word, and the bar beside it styles that alone.
  await page.mouse.dblclick(start + (end - start) * 0.8, middle)
  const bar = page.getByRole('toolbar', { name: 'The chosen words' })
  await bar.getByLabel('Size').fill('96')
  await bar.getByLabel('Size').press('Enter')
  await bar.getByLabel('Size').press('Escape')
  await expect(words(page)).toBeFocused()
  await page.keyboard.press('End')
  expect((await caret(page)).x).toBeGreaterThan(end + 15)
  await page.keyboard.press('Control+z')
  await page.keyboard.press('End')
  expect((await caret(page)).x).toBeCloseTo(end, 0)
  // Dragged over, cut and pasted.
  await page.mouse.move(start + 1, middle)
  await page.mouse.down()
  await page.mouse.move(start + (end - start) * 0.4, middle, { steps: 4 })
  await page.mouse.up()
  await page.keyboard.press('Control+x')
  const left = await words(page).inputValue()
  expect(left.length).toBeLessThan(13)
  await page.keyboard.press('End')
  await page.keyboard.press('Control+v')
  await expect(words(page)).toHaveValue(left + 'Harbour pilot'.slice(0, 13 - left.length))
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect(words(page)).toHaveValue('Harbour pilot')
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Delete')
  await expect(words(page)).toHaveValue('')
  // A text in which nothing is written is none.
  await page.mouse.click(...at(1500, 200))
  await expect(words(page)).toHaveCount(0)
  await expect(listed(page)).toHaveCount(0)
})

test('a drag gives a text its room; input methods and letters that run to the left are written as anywhere', async ({
  page,
}) => {
  const at = await emptyDraft(page)
  await page.keyboard.press('t')
  await page.mouse.move(...at(300, 300))
  await page.mouse.down()
  await page.mouse.move(...at(700, 400), { steps: 4 })
  await page.mouse.up()
  await expect(words(page)).toBeFocused()
  await page.keyboard.type('Notices of the whole long estuary week')
  const first = await caret(page)
  await page.keyboard.press('Control+Home')
  expect((await caret(page)).y).toBeLessThan(first.y - 10)
  await page.keyboard.press('ArrowDown')
  expect((await caret(page)).y).toBeGreaterThan((await caret(page)).height / 2)
  await page.keyboard.press('Control+a')
  // What an input method offers stands in the text while it is chosen, and is one word when it is taken.
  const session = await page.context().newCDPSession(page)
  await session.send('Input.imeSetComposition', { text: 'みなと', selectionStart: 3, selectionEnd: 3 })
  await expect(words(page)).toHaveValue('みなと')
  await session.send('Input.insertText', { text: '港' })
  await expect(words(page)).toHaveValue('港')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('ليلى')
  await expect(words(page)).toHaveValue('ليلى')
  const end = await caret(page)
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  // The last letter stands at the left; going right goes back towards the first.
  expect((await caret(page)).x).toBeGreaterThan(end.x + 4)
  await page.keyboard.type('م')
  await expect(words(page)).toHaveValue('ليملى')
})

test('fields: a token among words, the default in Hand-off, the row in Fill', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await openDraft(page, id)
  const name = page.getByRole('textbox', { name: /^The words of Name, which Name gives/ })
  const number = page.getByTestId('frame')
  const box = (await number.boundingBox())!
  const at = (x: number, y: number): [number, number] => [
    box.x + (x * box.width) / 1920,
    box.y + (y * box.height) / 1080,
  ]
  await choose(page, 'Name')
  const [x, y] = [(await edgeValue(page, 'left', 'Name')) + 40, (await edgeValue(page, 'top', 'Name')) + 40]
  await page.mouse.dblclick(...at(x, y))
  await expect(name).toBeFocused()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Io Marrec')
  await page.keyboard.press('Escape')

  await page.getByRole('link', { name: 'Hand-off' }).click()
  const shown = page.getByRole('img', { name: "The title with the form's values" })
  const tried = (await shown.boundingBox())!
  await page.mouse.dblclick(tried.x + (x * tried.width) / 1920, tried.y + (y * tried.height) / 1080)
  const byDefault = page.getByRole('textbox', { name: 'Name, its default, on the frame' })
  await expect(byDefault).toHaveValue('Io Marrec')
  await page.keyboard.press('End')
  await page.keyboard.type('-Rowe')
  await page.keyboard.press('Escape')
  await expect(byDefault).toHaveCount(0)
  await expect(page.getByText(/^saved /)).toBeVisible()

  await page.goto('/t/speaker/fill')
  // Rows that are pasted on the page of sheets are a sheet of the test's own.
  await expect(page.getByRole('button', { name: 'Follow a file or feed' })).toBeVisible()
  await paste(page, 'name\trole\nAna Brú\tPilot')
  await expect(page.getByRole('button', { name: '0 stop' })).toBeVisible()
  const row = page.getByRole('region', { name: 'Row 1' })
  const picture = (await row.getByRole('img', { name: /^Row 1 at frame/ }).boundingBox())!
  const was = await row.getByLabel('Name of row 1').inputValue()
  await page.mouse.dblclick(picture.x + picture.width * 0.46, picture.y + picture.height * 0.58)
  const own = page.getByRole('textbox', { name: 'Name, row 1, on the frame' })
  await expect(own).toHaveValue(was)
  await page.keyboard.press('End')
  await page.keyboard.type(' II')
  await expect(row.getByLabel('Name of row 1')).toHaveValue(`${was} II`)
  await page.keyboard.press('Control+z')
  await expect(row.getByLabel('Name of row 1')).toHaveValue(was)
  await page.keyboard.press('Escape')
  await expect(own).toHaveCount(0)
  expect(wrong).toEqual([])
})
