import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import AxeBuilder from '@axe-core/playwright'
import { zipSync } from 'fflate'
import { PNG } from 'pngjs'
import { complaints } from './pages.ts'
import { expect, type Locator, type Page, test } from './test.ts'

const guide = readFileSync('docs/how-to/programme.md', 'utf8')
const headings = [...guide.matchAll(/^## (\d+\. .+)$/gm)].map((match) => match[1]!)

const titles = (page: Page) => page.getByRole('list', { name: 'Titles' }).getByRole('listitem')
const clip = (page: Page, words: string) =>
  page.getByRole('region', { name: 'Timeline' }).getByRole('button', { name: new RegExp(`^${words}.* s$`) })
const hint = (page: Page) => page.getByRole('status', { name: 'Hint' })
const timecode = (page: Page) => page.getByRole('timer', { name: 'Timecode' })

/** Drags from a place in one thing by so many px, with keys held. */
async function dragBy(
  page: Page,
  what: Locator,
  from: 'start' | 'middle' | 'end',
  dx: number,
  keys: string[] = [],
  dy = 0,
) {
  const box = (await what.boundingBox())!
  const x = from === 'start' ? box.x + 2 : from === 'end' ? box.x + box.width - 2 : box.x + box.width / 2
  const y = box.y + box.height / 2
  await page.mouse.move(x, y)
  for (const key of keys) await page.keyboard.down(key)
  await page.mouse.down()
  await page.mouse.move(x + dx / 2, y + dy / 2, { steps: 4 })
  await page.mouse.move(x + dx, y + dy, { steps: 4 })
  await page.mouse.up()
  for (const key of keys) await page.keyboard.up(key)
}

async function begin(page: Page, name: string): Promise<void> {
  await page.goto('/')
  await page
    .getByRole('link', { name: /^Estuary Week\b/ })
    .first()
    .click()
  await page.getByRole('button', { name: 'New programme' }).click()
  await page.getByRole('dialog', { name: 'New programme' }).getByLabel('Name').fill(name)
  await page.keyboard.press('Enter')
  await expect(page.getByText('No titles yet')).toBeVisible()
}

async function addShot(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Add footage' }).click()
  await page.getByRole('menuitem', { name }).click()
  await expect(
    page
      .getByRole('region', { name: 'Timeline' })
      .getByRole('button', { name: new RegExp(`^${name}`) })
      .last(),
  ).toBeVisible()
}

/** Drags a template from above the list onto a place of the timeline. */
async function dropTemplate(page: Page, name: string, x: number): Promise<void> {
  const chip = (await page
    .getByRole('toolbar', { name: 'To place' })
    .getByRole('button', { name, exact: true })
    .boundingBox())!
  const ruler = (await page.getByRole('region', { name: 'Timeline' }).boundingBox())!
  const count = await titles(page).count()
  await page.mouse.move(chip.x + chip.width / 2, chip.y + chip.height / 2)
  await page.mouse.down()
  await page.mouse.move(ruler.x + x, ruler.y + 40, { steps: 4 })
  await page.mouse.move(ruler.x + x, ruler.y + 62, { steps: 4 })
  await page.mouse.up()
  await expect(titles(page)).toHaveCount(count + 1)
}

test('docs/how-to/programme.md, step by step', async ({ page }, { retry }) => {
  test.setTimeout(180_000)
  const wrong = complaints(page)
  const walked: string[] = []
  const step = async (heading: string, walk: () => Promise<void>) => {
    walked.push(heading)
    await test.step(heading, walk)
  }

  await step('1. Begin a programme', () => begin(page, `Friday ${retry}`))

  await step('2. Lay footage', async () => {
    await addShot(page, 'River mouth')
    await expect(page.getByText('of 10:02:00:00')).toBeVisible()
  })

  await step('3. Place titles', async () => {
    await dropTemplate(page, 'Speaker', 420)
    await page.keyboard.press('n')
    await expect(titles(page)).toHaveCount(2)
    await expect(titles(page).first()).toContainText('10:00:00:00')
    await expect(titles(page).first()).toContainText('stop Name is required')
  })

  await step('4. Say the words', async () => {
    await titles(page).nth(0).getByRole('button').first().click()
    await page.keyboard.press('Enter')
    const words = page.getByRole('region', { name: /^Words of/ })
    await expect(words.getByLabel('Name')).toBeFocused()
    await page.keyboard.type('Io Marrec')
    await page.keyboard.press('Tab')
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type('Tide-mill keeper')
    await expect(titles(page).first()).toContainText('Io Marrec · Tide-mill keeper')
    await page.keyboard.press('PageDown')
    await expect(words.getByLabel('Name')).toBeFocused()
    await page.keyboard.type('Maren Oduya-Castellví')
    await page.keyboard.press('Escape')
    await expect(words).toHaveCount(0)
    await expect(titles(page).nth(1)).toContainText('Maren Oduya-Castellví')
  })

  await step('5. Trim, and see what gives', async () => {
    const maren = clip(page, 'Maren')
    await dragBy(page, maren, 'end', -30)
    await expect(maren).not.toHaveAccessibleName(/, 5\.0 s$/)
    await dragBy(page, maren, 'end', -200)
    await expect(maren).toHaveAccessibleName(/, 1\.2 s$/)
    await expect(hint(page)).toHaveText('In and Out stay whole: 30 frames are the least.')
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(maren).toHaveAccessibleName(/, 5\.0 s$/)
  })

  await step('6. Copy', async () => {
    const maren = clip(page, 'Maren')
    await dragBy(page, maren.first(), 'middle', 160, ['Alt'])
    await expect(titles(page)).toHaveCount(3)
    await dragBy(page, maren.first(), 'middle', 320, ['Alt', 'Shift'])
    await expect(titles(page)).toHaveCount(4)
    await page.keyboard.press('Enter')
    await expect(page.getByText('says the same as 1 other title')).toBeVisible()
    const words = page.getByRole('region', { name: /^Words of/ })
    await words.getByLabel('Role').fill('Ecologist')
    await expect(titles(page).filter({ hasText: 'Maren Oduya-Castellví · Ecologist' })).toHaveCount(2)
    await words.getByRole('button', { name: 'give it words of its own' }).click()
    await words.getByLabel('Role').fill('Salt-marsh ecologist')
    await expect(titles(page).filter({ hasText: 'Maren Oduya-Castellví · Ecologist' })).toHaveCount(1)
    await page.keyboard.press('Escape')
    // One person, two roles: that is told.
    await expect(titles(page).filter({ hasText: 'Maren' }).last()).toContainText('look')
  })

  await step('7. Bring in a list', async () => {
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'From a list' }).click()
    await page.getByRole('menuitem', { name: /^A file with times/ }).click()
    const srt = [
      ['10,000', '15,000', 'Nguyễn Thị Hạnh'],
      ['12,000', '16,000', 'Håkan Sjö'],
      ['25,000', '25,500', 'Wilhelmina Fotheringay'],
    ].map(([from, to, text], i) => `${i + 1}\n00:01:${from} --> 00:01:${to}\n${text}\n`)
    await (await chooser).setFiles({
      name: 'names.srt',
      mimeType: 'application/x-subrip',
      buffer: Buffer.from(srt.join('\n')),
    })
    const dialog = page.getByRole('dialog', { name: 'Titles from names.srt' })
    await dialog.getByLabel('Template', { exact: true }).selectOption({ label: 'Speaker' })
    await expect(dialog.getByLabel('Column for Name')).toHaveValue('Text')
    const outcome = dialog.getByRole('region', { name: 'What comes of it' })
    await expect(outcome).toContainText('3 titles; 1 made longer')
    await expect(outcome).toContainText('1 on a track above')
    await dialog.getByRole('button', { name: 'Place 3 titles' }).click()
    await expect(dialog).toHaveCount(0)
    await expect(titles(page)).toHaveCount(7)
    await expect(timecode(page)).toHaveText('10:01:10:15')
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(titles(page)).toHaveCount(4)
    await page.getByRole('button', { name: 'Redo' }).click()
    await expect(titles(page)).toHaveCount(7)
  })

  await step('8. Look along time', async () => {
    await expect(titles(page).filter({ hasText: 'Håkan Sjö ·' })).toContainText('stop')
    await page.getByRole('button', { name: 'More', exact: true }).click()
    await page.getByRole('menuitem', { name: 'What is checked along time …' }).click()
    const dialog = page.getByRole('dialog', { name: 'What is checked along time' })
    await dialog.getByLabel('Longest, seconds').fill('4')
    await dialog.getByRole('button', { name: 'Check so' }).click()
    await titles(page).filter({ hasText: 'Io Marrec' }).getByRole('button').first().dblclick()
    await expect(page.getByRole('region', { name: 'Words of Io Marrec' })).toContainText('4.0 s is the most')
    await page.keyboard.press('Escape')
  })

  await step('9. All at once', async () => {
    await page.getByRole('button', { name: 'More', exact: true }).click()
    await page.getByRole('menuitem', { name: 'Find and replace words …' }).click()
    const dialog = page.getByRole('dialog', { name: 'Find and replace words' })
    await dialog.getByLabel('Which').selectOption('all')
    await dialog.getByLabel('Find').fill('Oduya-Castellví')
    await dialog.getByLabel('Put').fill('Oduya')
    await dialog.getByRole('button', { name: 'Replace in 3 texts' }).click()
    await expect(titles(page).filter({ hasText: 'Maren Oduya ·' })).toHaveCount(3)
    await page.getByRole('button', { name: 'More', exact: true }).click()
    await page.getByRole('menuitem', { name: 'Put on another template or version …' }).click()
    const swap = page.getByRole('dialog', { name: 'Put titles on another template or version' })
    await swap.getByLabel('Which').selectOption('all')
    await swap.getByLabel('Template').selectOption({ label: 'Place' })
    await expect(swap.getByRole('region', { name: 'What becomes of the words' })).toContainText('let go')
    await swap.getByRole('button', { name: 'Cancel' }).click()
  })

  await step('10. Hand it over', async () => {
    await page.getByRole('button', { name: 'To other programs' }).click()
    const download = page.waitForEvent('download')
    await page.getByRole('menuitem', { name: 'Subtitles, SubRip (.srt)' }).click()
    const text = readFileSync(await (await download).path(), 'utf8')
    expect(text).toContain('00:00:00,000 --> 00:00:05,000\nIo Marrec\nTide-mill keeper')
    await page.getByRole('button', { name: /^Render \d/ }).click()
    const dialog = page.getByRole('dialog', { name: 'Render titles, each to its length' })
    await dialog.getByLabel('Format').selectOption({ label: 'PNG sequence' })
    await dialog.getByRole('button', { name: /^Render \d/ }).click()
    await expect(dialog.getByText('1 output under way')).toBeVisible()
    await dialog.getByRole('link', { name: /^Speaker: look at output/ }).click()
    await expect(page.getByText('7 done').first()).toBeVisible({ timeout: 60_000 })
  })

  expect(walked).toEqual(headings)
  expect(wrong).toEqual([])
})

test('the demo programme: what is found, transport, undo past a reload, tracks off, keys', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto('/')
  await page
    .getByRole('link', { name: /^Estuary Week\b/ })
    .first()
    .click()
  await page.getByRole('link', { name: 'Thursday evening' }).click()
  await expect(titles(page)).toHaveCount(12)
  await expect(page.getByText('1 stop')).toBeVisible()
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([])

  // Stepping is by the frame, whatever was played before.
  await page.keyboard.press('Home')
  await page.keyboard.press('Space')
  await expect(timecode(page)).not.toHaveText('10:00:00:00')
  await page.keyboard.press('k')
  const stood = (await timecode(page).textContent())!
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowLeft')
  await expect(timecode(page)).toHaveText(stood)
  await page.keyboard.press('Home')
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowRight')
  await expect(timecode(page)).toHaveText('10:00:01:05')

  // Next and previous title, their trim and their place by key.
  await page.keyboard.press('PageDown')
  const second = titles(page).nth(1)
  await expect(second.getByRole('button').first()).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('Alt+ArrowLeft')
  await expect(second).toContainText('5.0 s')
  for (let i = 0; i < 4; i++) await page.keyboard.press('Alt+ArrowLeft')
  await expect(second).toContainText('4.8 s')
  await page.keyboard.press('ControlOrMeta+ArrowRight')
  await expect(second).toContainText('10:00:09:01')
  await page.reload()
  await expect(second).toContainText('10:00:09:01')
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(second).toContainText('5.0 s')
  await expect(second).toContainText('10:00:09:00')

  // A right click on a clip, and the pieces of a split.
  await clip(page, 'Lamp house').first().click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Linked copy behind it' }).click()
  await expect(titles(page)).toHaveCount(13)
  await page.keyboard.press('Delete')
  await expect(titles(page)).toHaveCount(12)
  await titles(page).nth(0).getByRole('button').first().click()
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.press('/')
  await expect(titles(page)).toHaveCount(13)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(titles(page)).toHaveCount(12)

  // A caret on the picture: what is typed there is the title's, live.
  await titles(page).nth(1).getByRole('button').first().click()
  await expect(timecode(page)).toHaveText('10:00:09:15')
  const shown = (await page.getByRole('img', { name: "The programme's picture" }).boundingBox())!
  await page.mouse.dblclick(shown.x + shown.width * 0.2, shown.y + shown.height * 0.84)
  await expect(page.getByRole('textbox', { name: 'Name, this title, on the frame' })).toBeFocused()
  await page.keyboard.press('ControlOrMeta+a')
  await page.keyboard.type('Ioana B.')
  await expect(titles(page).nth(1)).toContainText('Ioana B. · Tidal geographer')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('region', { name: /^Words of/ })).toHaveCount(0)

  // Its words become a row of a sheet, and come from one.
  await page.keyboard.press('Enter')
  const words = page.getByRole('region', { name: /^Words of/ })
  await words.getByRole('button', { name: 'to a row …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Sheet').selectOption({ label: 'speakers.csv' })
  await dialog.getByRole('button', { name: 'As a new row' }).click()
  await expect(words).toContainText('row 41 of a sheet')
  await words.getByRole('button', { name: 'from a row …' }).click()
  await dialog.getByLabel('Row').selectOption({ index: 0 })
  await dialog.getByRole('button', { name: 'Take these words' }).click()
  await expect(words).toContainText('row 1 of a sheet')
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click()
  await expect(titles(page).nth(1)).toContainText('Ioana Brezoiu')
  await page.keyboard.press('Escape')

  // Tracks that are off say nothing and are not seen.
  await page.getByRole('button', { name: 'Titles 1 is on' }).click()
  await expect(page.getByText(/\d stop/)).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText(/\d stop/)).toBeVisible()
  await page.keyboard.press('m')
  await page.getByRole('dialog', { name: 'A marker at the playhead' }).getByLabel('Name').fill('Here')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^Marker Here at/ })).toBeVisible()
  await page.getByRole('button', { name: /^Marker Here at/ }).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await expect(page.getByRole('button', { name: /^Marker Here at/ })).toHaveCount(0)
  expect(wrong).toEqual([])
})

test('many titles at once: a box around them, rows of a sheet with times, shifted, another version with its losses', async ({
  page,
}, { retry }) => {
  const wrong = complaints(page)
  await begin(page, `Many ${retry}`)
  await addShot(page, 'Ferry')
  // A sheet whose columns say when each title is.
  const versions = (await (await page.request.get('/api/templates/place')).json()) as { versions: { id: number }[] }
  const rows = [
    ['Place', 'Coordinates', 'In', 'Out'],
    ['Lower Vado saltworks', '43 N', '10:00:05:00', '10:00:10:00'],
    ['Lamp house', '44 N', '10:00:20:00', '10:00:24:00'],
    ['Outer mole', '', '', ''],
    ['Ferry landing', '45 N', '10:00:40:00', '10:00:41:00'],
  ]
  const made = await page.request.post('/api/sheets', {
    data: { version: versions.versions[0]!.id, name: `Places ${retry}`, table: rows },
  })
  expect(made.ok()).toBe(true)
  await page.getByRole('button', { name: 'From a list' }).click()
  await page.getByRole('menuitem', { name: 'Rows of a sheet …' }).click()
  const list = page.getByRole('dialog', { name: 'Titles from a sheet' })
  await list.getByLabel('Template', { exact: true }).selectOption({ label: 'Place' })
  await list.getByLabel('Sheet').selectOption({ label: `Places ${retry}` })
  await expect(list.getByLabel('Its times count')).toHaveValue('start')
  await expect(list).toContainText('1 row makes no title: row 3: It does not say when it starts.')
  await list.getByRole('button', { name: 'Place 3 titles' }).click()
  await expect(titles(page)).toHaveCount(3)
  await expect(titles(page).nth(2)).toContainText('10:00:40:00')

  // A box around the first two.
  await page.keyboard.press('Escape')
  const [first, second] = [
    (await clip(page, 'Lower Vado').boundingBox())!,
    (await clip(page, 'Lamp house').boundingBox())!,
  ]
  await page.mouse.move(first.x - 12, first.y + first.height - 4)
  await page.mouse.down()
  await page.mouse.move(second.x + 20, first.y + 6, { steps: 6 })
  await page.mouse.up()
  await expect(page.getByText('2 clips chosen')).toBeVisible()
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Shift in time …' }).click()
  const shift = page.getByRole('dialog', { name: 'Shift titles in time' })
  await shift.getByLabel('By').fill('-2 s')
  await page.keyboard.press('Enter')
  await expect(titles(page).nth(0)).toContainText('10:00:03:00')
  await expect(titles(page).nth(1)).toContainText('10:00:18:00')
  await expect(titles(page).nth(2)).toContainText('10:00:40:00')

  // Lengths as far as there is room, and another template with what is let go told before.
  await page.keyboard.press('ControlOrMeta+a')
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Set their length …' }).click()
  const lengths = page.getByRole('dialog', { name: 'Set the length of titles' })
  await lengths.getByLabel('Length').fill('16 s')
  await page.keyboard.press('Enter')
  await expect(page.getByText('2 titles are 400 frames, 16.00 s long; 1 as before.')).toBeVisible()
  await expect(titles(page).nth(0)).toContainText('5.0 s')
  await expect(titles(page).nth(2)).toContainText('16.0 s')
  await page.getByRole('button', { name: 'More', exact: true }).click()
  await page.getByRole('menuitem', { name: 'Put on another template or version …' }).click()
  const swap = page.getByRole('dialog', { name: 'Put titles on another template or version' })
  await swap.getByLabel('Template').selectOption({ label: 'Speaker' })
  await swap.getByRole('button', { name: 'Put 3 titles on it' }).click()
  await expect(titles(page).nth(1)).toContainText('Lamp house')
  await expect(clip(page, 'Lamp house')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(titles(page).nth(2)).not.toContainText('16.0 s')
  // Footage that goes takes what is behind it along.
  await page.getByRole('button', { name: 'Ripple' }).click()
  await page
    .getByRole('region', { name: 'Timeline' })
    .getByRole('button', { name: /^Ferry, 10/ })
    .click()
  await page.keyboard.press('Delete')
  await expect(page.getByRole('region', { name: 'Timeline' }).getByRole('button', { name: /^Ferry, 10/ })).toHaveCount(
    0,
  )
  await page.getByRole('button', { name: 'Undo' }).click()
  expect(wrong).toEqual([])
})

test.describe('what is shown is what renders', () => {
  // A picture of the programme's own size on the screen.
  test.use({ deviceScaleFactor: 2 })

  test("fifty frames of the monitor over a sequence of PNG are the render's, byte for byte", async ({ page }) => {
    test.setTimeout(180_000)
    const rate = 25
    const size = { width: 960, height: 540 }
    const made = await page.request.post('/api/programmes', {
      data: { name: 'Exact', ...size, rate: String(rate), start: '10:00:00:00' },
    })
    const { id } = (await made.json()) as { id: number }
    await page.goto(`/programmes/${id}`)
    const frames = 60
    const files = Object.fromEntries(
      Array.from({ length: frames }, (_, i) => [`shot_${i}.png`, new Uint8Array(PNG.sync.write(pattern(size, i)))]),
    )
    await page.getByLabel('Footage', { exact: true }).setInputFiles({
      name: 'shot.zip',
      mimeType: 'application/zip',
      buffer: Buffer.from(zipSync(files, { level: 0 })),
    })
    await expect(page.getByText('of 10:00:02:10')).toBeVisible({ timeout: 30_000 })
    await page.getByRole('button', { name: 'Other templates' }).click()
    await page.getByRole('menuitem', { name: 'Speaker', exact: true }).click()
    await expect(titles(page)).toHaveCount(1)
    const picture = page.getByRole('img', { name: "The programme's picture" })
    await expect(picture).toHaveAttribute('data-exact', 'true', { timeout: 30_000 })
    await expect(page.getByRole('banner').getByRole('status')).toHaveText('saved')
    const shuffled = Array.from({ length: frames }, (_, i) => ({ i, by: Math.random() })).sort((a, b) => a.by - b.by)
    const wanted = shuffled.slice(0, 50).map(({ i }) => i)
    let at = 0
    await page.keyboard.press('Home')
    for (const frame of wanted.sort((a, b) => a - b)) {
      const render = page.request.get(`/api/programmes/${id}/frames/${frame}.png`)
      for (; at < frame; at++) await page.keyboard.press('ArrowRight')
      const [seconds, rest] = [Math.floor(frame / rate), frame % rate]
      await expect(timecode(page)).toHaveText(`10:00:0${seconds}:${String(rest).padStart(2, '0')}`)
      await expect.poll(() => picture.getAttribute('data-exact'), { intervals: [40] }).toBe('true')
      const shown = await picture.evaluate(async (canvas: HTMLCanvasElement) => {
        const { width, height } = canvas
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height)
        return [width, height, ...new Uint8Array(await crypto.subtle.digest('SHA-256', data))]
      })
      const { width, height, data } = PNG.sync.read(Buffer.from(await (await render).body()))
      expect([frame, ...shown]).toEqual([frame, width, height, ...createHash('sha256').update(data).digest()])
    }
  })
})

/** A picture that no two frames share, with every kind of edge. */
function pattern({ width, height }: { width: number; height: number }, frame: number): PNG {
  const png = new PNG({ width, height })
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = 4 * (y * width + x)
      png.data[at] = (x + 4 * frame) & 255
      png.data[at + 1] = (y * 2 + frame) & 255
      png.data[at + 2] = ((x >> 4) ^ (y >> 4)) & 1 ? 200 : 40
      png.data[at + 3] = 255
    }
  return png
}
