import { complaints, openDraft, ownTemplate, saved, stored } from './pages.ts'
import { expect, type Page, test } from './test.ts'

/** The colour in the middle of a swatch's card. */
const recoloured = async (page: Page, name: string, colour: string) => {
  await page.getByRole('button', { name: `Palette colour ${name}` }).click()
  const input = page.getByLabel('Colour as #rrggbb')
  await input.fill(colour)
  await input.press('Enter')
  await page.keyboard.press('Escape')
}
/** The pixel of the frame in the middle of the plate, its footage switched off. */
const plate = (page: Page) =>
  page
    .getByTestId('frame')
    .locator('canvas')
    .first()
    .evaluate((canvas: HTMLCanvasElement) => {
      const { data, width } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
      // The plate's left upper corner: the first pixel that is drawn whole, some way in.
      for (let i = 3; i < data.length; i += 4)
        if (data[i] === 255) {
          const at = i - 3 + 4 * (8 + 8 * width)
          return [...data.slice(at, at + 3)]
        }
      return []
    })

test('a palette of a name and a colour that editors choose recolour the whole design, in Draft and in a row', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await openDraft(page, id)
  const drawn = await plate(page)
  await page.getByRole('button', { name: '+ Palette' }).click()
  await page.getByRole('dialog').getByLabel('Name').fill('Evening')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('radio', { name: 'Evening' })).toBeChecked()
  await recoloured(page, 'Night tide', '#5a1846')
  await expect.poll(() => plate(page)).not.toEqual(drawn)
  await page.getByRole('radio', { name: 'As drawn' }).click()
  await expect.poll(() => plate(page)).toEqual(drawn)
  const { palette, fields } = await stored(page)
  expect(palette.find(({ name }) => name === 'Night tide')?.colour).toBe('#12343b')
  expect(fields.find(({ key }) => key === 'palette')?.options).toMatchObject([
    { name: 'As drawn' },
    { name: 'Evening', colours: [{ to: '#5a1846' }] },
  ])

  // One colour follows another, and goes along when that is recoloured; it is no longer recoloured itself.
  await page.getByRole('button', { name: 'Palette colour Deep water' }).click()
  await page.getByLabel('Follows').selectOption('darker than')
  await expect(page.getByLabel('Colour as #rrggbb')).toBeHidden()
  await page.keyboard.press('Escape')
  const deep = async () => (await stored(page)).palette.find(({ name }) => name === 'Deep water')!
  const before = await deep()
  expect(before.from).toMatchObject({ as: 'darker', by: 0.3 })
  await recoloured(page, 'Night tide', '#0b5d3a')
  await expect.poll(async () => (await deep()).colour).not.toBe(before.colour)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect.poll(async () => (await deep()).colour).toBe(before.colour)

  // Editors choose it: in the form, and in a sheet by hex, by CSS's names, by the palette's.
  await page.getByRole('button', { name: 'Palette colour Night tide' }).click()
  await page.getByText('Editors choose it').click()
  await page.keyboard.press('Escape')
  await saved(page)
  const version = await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()
  const table = [
    ['name', 'role', 'night tide', 'palette'],
    ['Maren', 'Ecologist', 'teal', ''],
    ['Io', 'Pilot', '#7A1F2B', 'Evening'],
    ['Li', 'Guide', 'Shell', ''],
    ['Bo', 'Cook', 'tealish', ''],
  ]
  const sheet = await (
    await page.request.post('/api/sheets', { data: { version: version.id, name: 'Sponsors', table } })
  ).json()
  await page.goto(`/t/${id}/fill/${sheet.id}`)
  const row = (n: number, state: string) => page.getByRole('button', { name: `Row ${n}, ${state}` })
  // Amber on teal stands out 2.2:1.
  await expect(row(1, 'look')).toBeVisible()
  await expect(row(2, 'fine')).toBeVisible()
  // Words of shell on a plate of shell are not seen; what is no colour stops its row.
  await expect(row(3, 'stop')).toBeVisible()
  await row(4, 'stop').click()
  await expect(page.getByLabel('Row 4', { exact: true }).getByText('"tealish" is not a colour')).toBeVisible()
  expect(wrong).toEqual([])
})

test('the whole design is mirrored across, by one command and as a choice that a row makes', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await openDraft(page, id)
  const plate = async () => {
    const { template } = await (await page.request.get(`/api/templates/${id}`)).json()
    return template.parts.find(({ name }: { name: string }) => name === 'Edge').x.ties[0]
  }
  const before = await plate()
  await page.getByRole('button', { name: 'Arrange the chosen parts' }).click()
  await page.getByRole('menuitem', { name: 'Mirror the whole design across' }).click()
  await saved(page)
  await expect.poll(plate).not.toEqual(before)
  // Every proof is as fine, or not, at the other side.
  await expect(page.getByText('fine').first()).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect.poll(plate).toEqual(before)

  await page.keyboard.press('Control+k')
  await page.keyboard.type('as a choice for editors')
  await page.keyboard.press('Enter')
  await saved(page)
  await page.goto(`/t/${id}/handoff`)
  const form = page.getByRole('complementary', { name: "The editor's form" })
  const picture = page
    .getByRole('img', { name: /Frame \d+/ })
    .or(page.locator('canvas').first())
    .first()
  const pixels = () =>
    picture.evaluate((canvas: HTMLCanvasElement) => {
      const { data, width } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
      // How far to the right what is drawn lies, as a share of the width.
      let [sum, count] = [0, 0]
      for (let i = 3; i < data.length; i += 4)
        if (data[i]! > 0) {
          sum += ((i - 3) / 4) % width
          count++
        }
      return count === 0 ? -1 : sum / count / width
    })
  await expect(form.getByRole('radio', { name: 'Mirrored' })).toBeVisible()
  await expect.poll(pixels).toBeGreaterThan(0)
  const left = await pixels()
  expect(left).toBeLessThan(0.5)
  await form.getByRole('radio', { name: 'Mirrored' }).click()
  await expect.poll(pixels).toBeCloseTo(1 - left, 1)
  // What the option sets stands in one list, and the movement says that it is mirrored.
  await form.getByRole('button', { name: 'Side', exact: true }).click()
  await expect(page.getByRole('combobox', { name: /Movement, Mirrored$/ }).first()).toHaveValue('mirrored')
  expect(wrong).toEqual([])
})

test('the whole title is put at one of nine places, shifted and scaled by what an editor gives', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/handoff`)
  const form = page.getByRole('complementary', { name: "The editor's form" })
  for (const kind of ['its place, one of nine', 'its size, in per cent']) {
    await form.getByRole('button', { name: 'A field about the whole title' }).click()
    await page.getByRole('menuitem', { name: kind }).click()
  }
  /** Where what is drawn begins and ends, as shares of the frame. */
  const extent = () =>
    page
      .locator('canvas')
      .first()
      .evaluate((canvas: HTMLCanvasElement) => {
        const { width, height } = canvas
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height)
        let [left, right, top] = [width, 0, height]
        for (let i = 3; i < data.length; i += 4)
          if (data[i]! > 40) {
            const [x, y] = [((i - 3) / 4) % width, Math.floor((i - 3) / 4 / width)]
            left = Math.min(left, x)
            right = Math.max(right, x)
            top = Math.min(top, y)
          }
        return { left: left / width, right: right / width, top: top / height }
      })
  await expect.poll(async () => (await extent()).left).toBeLessThan(0.1)
  const drawn = await extent()
  await form.getByRole('radio', { name: 'top right' }).click()
  await expect.poll(async () => (await extent()).right).toBeGreaterThan(0.9)
  const placed = await extent()
  expect(placed.top).toBeLessThan(0.2)
  const size = form.getByRole('textbox', { name: 'Size' })
  await size.fill('60')
  await size.press('Enter')
  await expect
    .poll(async () => {
      const now = await extent()
      return now.right - now.left
    })
    .toBeLessThan((drawn.right - drawn.left) * 0.75)
  expect((await extent()).right).toBeGreaterThan(0.9)
  expect(wrong).toEqual([])
})
