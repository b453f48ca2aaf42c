import { choose, chooseSlowly, complaints, edgeValue, openDraft, ownTemplate, saved } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const add = (page: Page) =>
  page.getByRole('complementary', { name: 'Parts' }).getByRole('button', { name: '+ Add' }).click()

test('an edge is picked on the frame, a ring is refused, a proof fills the frame', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Highlight')
  await page.getByRole('button', { name: 'left of Highlight', exact: true }).click()
  await page.getByRole('button', { name: 'Pick on the frame' }).click()
  await expect(page.getByText('Click the part or safe area')).toBeVisible()
  // The empty water right of the title: the nearest line there is the frame's or a safe area's.
  const frame = (await page.getByTestId('frame').boundingBox())!
  await page.mouse.click(frame.x + frame.width * 0.949, frame.y + frame.height * 0.3)
  await expect(page.getByRole('button', { name: 'left of Highlight', exact: true })).toContainText('title-safe')

  await choose(page, 'Edge')
  await page.getByRole('button', { name: 'left of Edge', exact: true }).click()
  await page.getByLabel('Holds to').selectOption({ label: 'Plate' })
  await expect(page.getByText('That would tie parts in a ring')).toBeVisible()

  await page.getByRole('button', { name: /3 longest/ }).click()
  await expect(page.getByText('In the frame: longest')).toBeVisible()
  await choose(page, 'Plate')
  expect(await edgeValue(page, 'width', 'Plate')).toBeGreaterThan(1200)
  await page.getByText(/Show the whole chain/).click()
  await expect(page.getByText('title-safe gives 96')).toBeVisible()
  expect(wrong).toEqual([])
})

test('a part is drawn, dragged, tied around another, and removed', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'New template' }).click()
  await page.getByRole('dialog').getByLabel('Name').fill('Place')
  await page.getByRole('button', { name: 'Start drawing' }).click()
  await expect(page.getByText('Nothing is drawn yet')).toBeVisible()
  await add(page)
  await page.getByRole('menuitem', { name: 'text' }).click()
  await add(page)
  await page.getByRole('menuitem', { name: 'box' }).click()
  const at = await edgeValue(page, 'left', 'Box 1')
  const frame = (await page.getByTestId('frame').boundingBox())!
  const scale = frame.width / 1920
  await page.mouse.move(frame.x + 400 * scale, frame.y + 300 * scale)
  await page.mouse.down()
  await page.mouse.move(frame.x + 500 * scale, frame.y + 300 * scale, { steps: 4 })
  await page.mouse.up()
  await expect.poll(() => edgeValue(page, 'left', 'Box 1')).toBeCloseTo(at + 100, -1)
  await page.getByRole('button', { name: 'left of Box 1', exact: true }).click()
  await page.getByRole('button', { name: 'Pick on the frame' }).click()
  await page.mouse.click(frame.x + 205 * scale, frame.y + 225 * scale)
  await expect(page.getByRole('button', { name: 'left of Box 1', exact: true })).toContainText('left of Text 1')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('button', { name: 'left of Box 1', exact: true })).toContainText('by hand')
  await page.getByRole('listitem').filter({ hasText: 'Box 1' }).hover()
  await page.getByRole('button', { name: 'More for Box 1' }).click()
  await chooseSlowly(page, 'Remove')
  await expect(page.getByText('Choose a part in the list')).toBeVisible()
  await saved(page)
  expect(wrong).toEqual([])
})

test('a second tab never overwrites: the person chooses', async ({ page, context }) => {
  const id = await ownTemplate(page)
  await openDraft(page, id)
  const other = await context.newPage()
  await openDraft(other, id)
  await choose(other, 'Mount')
  await other.keyboard.press('Alt+ArrowRight')
  await saved(other)
  await choose(page, 'Edge')
  await page.keyboard.press('Alt+ArrowRight')
  await expect(page.getByRole('dialog', { name: 'Changed elsewhere' })).toBeVisible()
  await page.getByRole('button', { name: 'Take the other one' }).click()
  await choose(page, 'Mount')
  expect(await edgeValue(page, 'left', 'Mount')).toBe(131)
  await saved(page)
})

test('keys are dragged in the time view, In is made longer, playing moves the playhead', async ({ page }) => {
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Mount')
  const time = page.getByRole('region', { name: 'Time' })
  const box = (await time.getByRole('button', { name: 'Keys of Mount at in 14' }).boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x - 20, box.y + 8, { steps: 3 })
  await page.mouse.up()
  await expect(time.getByRole('button', { name: 'Keys of Mount at in 14' })).toHaveCount(0)
  await page.getByLabel('Length of in').fill('20')
  await page.getByLabel('Length of in').press('Enter')
  await expect(page.getByText('In 20 f')).toBeVisible()
  const frame = page.getByRole('img', { name: /^Frame \d+ of/ })
  const before = await frame.getAttribute('aria-label')
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await expect.poll(() => frame.getAttribute('aria-label')).not.toBe(before)
})

test('several parts are staggered, and what In cannot hold is refused', async ({ page }) => {
  await openDraft(page, await ownTemplate(page))
  const time = page.getByRole('region', { name: 'Time' })
  const lane = (name: string) => time.getByRole('button', { name: new RegExp(`^\\d ${name}$`) })
  await lane('Edge').click()
  await lane('Highlight').click({ modifiers: ['Shift'] })
  await lane('Plate').click({ modifiers: ['Shift'] })
  await expect(time.getByText('3 parts,')).toBeVisible()
  await time.getByLabel('How far apart').fill('2')
  await time.getByLabel('How far apart').press('Enter')
  await time.getByRole('button', { name: 'Stagger', exact: true }).click()
  await expect(time.getByRole('button', { name: 'Keys of Plate at in 15' })).toBeVisible()
  await expect(time.getByRole('button', { name: 'Keys of Highlight at in 2' })).toBeVisible()
  await time.getByLabel('How far apart').fill('9')
  await time.getByLabel('How far apart').press('Enter')
  await time.getByRole('button', { name: 'Stagger', exact: true }).click()
  await expect(page.getByText('make In longer or the steps smaller')).toBeVisible()
})

test('a time is typed as frames, seconds or timecode, or as a sum, and shown as the person prefers', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  const length = page.getByLabel('Length of in')
  for (const [typed, frames] of [
    ['1.2 s', '30'],
    ['20 f', '20'],
    ['00:00:01:10', '35'],
    ['+5', '40'],
    ['/2', '20'],
  ] as const) {
    await length.fill(typed)
    await length.press('Enter')
    await expect(length).toHaveValue(frames)
  }
  await length.fill('soon')
  await length.press('Enter')
  await expect(page.getByText('"soon" is not a length')).toBeVisible()
  await length.press('Escape')
  await page.getByRole('button', { name: 'How times are shown' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'as seconds' }).click()
  await page.keyboard.press('Escape')
  await expect(length).toHaveValue('0.8 s')
  await page.reload()
  await expect(length).toHaveValue('0.8 s')
  // A whole number by itself means what is shown.
  await length.fill('1')
  await length.press('Enter')
  await expect(length).toHaveValue('1 s')
  expect(wrong).toEqual([])
})

test('lanes are filtered; keys meet those of other parts where frames are narrow', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await openDraft(page, id)
  const time = page.getByRole('region', { name: 'Time' })
  const lanes = time.getByRole('group', { name: /^Keys of/ })
  await expect(lanes).toHaveCount(8)
  const filter = async (entry: string) => {
    await time.getByRole('button', { name: 'Which parts have lanes' }).click()
    await page.getByRole('menuitemcheckbox', { name: entry }).click()
    await page.keyboard.press('Escape')
  }
  await filter('keyed')
  await expect(lanes).toHaveCount(7)
  await filter('unfinished')
  await expect(time.getByText('No part is unfinished.')).toBeVisible()
  await filter('chosen')
  await expect(lanes).toHaveCount(0)
  await choose(page, 'Edge')
  await expect(lanes).toHaveCount(1)
  await filter('all')

  // In of 200 frames: a frame is less than a pixel wide.
  await page.getByLabel('Length of in').fill('200')
  await page.getByLabel('Length of in').press('Enter')
  const last = (part: string) => time.getByRole('button', { name: new RegExp(`^Keys of ${part} at in`) }).last()
  const at = async (part: string) => Number(/in (\d+)$/.exec((await last(part).getAttribute('aria-label'))!)![1])
  const drag = async (part: string, x: number) => {
    const box = (await last(part).boundingBox())!
    await page.mouse.move(box.x + box.width / 2, box.y + 8)
    await page.mouse.down()
    await page.mouse.move(x, box.y + 8, { steps: 6 })
    await page.mouse.up()
  }
  const middle = async (part: string) => {
    const box = (await last(part).boundingBox())!
    return box.x + box.width / 2
  }
  await drag('Mark', (await middle('Mark')) + 70)
  await expect.poll(() => at('Mark')).toBeGreaterThan(60)
  // Two pixels off is three frames here: it is brought there all the same.
  await drag('Name', (await middle('Mark')) + 2)
  await expect.poll(() => at('Name')).toBe(await at('Mark'))
  expect(wrong).toEqual([])
})

test('somebody new is shown around in four steps, which can be left and called again', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await page.keyboard.press('Control+k')
  await page.keyboard.type('show me around')
  await page.keyboard.press('Enter')
  const stop = (name: string) => page.getByRole('dialog', { name })
  await expect(stop('Draw as on paper, 1 of 4')).toBeVisible()
  await page.getByRole('button', { name: 'Next' }).click()
  await expect(stop('Say what holds to what, 2 of 4')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('show me around')
  await page.keyboard.press('Enter')
  for (const name of ['Draw as on paper', 'Say what holds to what', 'See it with other names']) {
    await expect(stop(new RegExp(name).source)).toBeVisible()
    await page.getByRole('button', { name: 'Next' }).click()
  }
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  expect(wrong).toEqual([])
})
