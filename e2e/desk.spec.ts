import { readFileSync } from 'node:fs'
import { strToU8, zipSync } from 'fflate'
import { Hand } from './hand.ts'
import { chooseSlowly, complaints, edgeValue, openDraft, ownTemplate, saved, stored } from './pages.ts'
import { expect, type Page, test } from './test.ts'

/** The frame on the screen: px of the frame to px of the page. */
async function onScreen(page: Page): Promise<(x: number, y: number) => [number, number]> {
  const box = (await page.getByTestId('frame').boundingBox())!
  return (x, y) => [box.x + (x / 1920) * box.width, box.y + (y / 1080) * box.height]
}

async function drag(page: Page, from: [number, number], to: [number, number], keys: string[] = []): Promise<void> {
  await page.mouse.move(...from)
  for (const key of keys) await page.keyboard.down(key)
  await page.mouse.down()
  await page.mouse.move((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, { steps: 2 })
  await page.mouse.move(...to, { steps: 2 })
  await page.mouse.up()
  for (const key of keys) await page.keyboard.up(key)
}

test('parts are drawn on the frame: box, ellipse, line, text, a free path whose points are moved', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await hand.startTemplate('Drawn by hand')
  const at = await onScreen(page)
  await page.keyboard.press('b')
  await drag(page, at(200, 200), at(600, 400), ['Control'])
  expect(await edgeValue(page, 'width', 'Box 1')).toBeCloseTo(400, -1)
  await page.keyboard.press('e')
  await drag(page, at(800, 200), at(1000, 400))
  await page.keyboard.press('i')
  await drag(page, at(200, 600), at(900, 604))
  await page.keyboard.press('t')
  await page.mouse.click(...at(1200, 300))
  await page.keyboard.type('Lamp')
  await page.keyboard.press('Escape')
  await page.keyboard.press('p')
  for (const [x, y] of [
    [300, 800],
    [500, 700],
    [700, 800],
  ] as const)
    await page.mouse.click(...at(x, y))
  await page.mouse.click(...at(300, 800))
  const kinds = (await stored(page)).parts.map((part) => part.kind)
  expect(kinds).toEqual(['box', 'ellipse', 'path', 'text', 'path'])

  // The points of the path: one is dragged, made smooth by a double press, one is added and one removed.
  await page.getByRole('button', { name: 'Edit the points of a path' }).click()
  const point = page.getByRole('button', { name: 'Point 2 of Path 1' })
  const box = (await point.boundingBox())!
  await drag(page, [box.x + 4, box.y + 4], [box.x + 4, box.y - 36])
  await point.dblclick()
  await expect(page.getByRole('button', { name: 'Handle after point 2' })).toBeVisible()
  await page.getByRole('button', { name: 'Add a point here' }).first().click()
  await page.getByRole('button', { name: 'Point 4 of Path 1' }).focus()
  await page.keyboard.press('Delete')
  const path = (await stored(page)).parts[4]!
  const { points } = (path.style as { outlines: { points: { smooth?: boolean; y: number }[] }[] }).outlines[0]!
  expect(points).toHaveLength(3)
  expect(points.some((one) => one.smooth)).toBe(true)
  expect(wrong).toEqual([])
})

test('parts are snapped, resized, nudged, aligned, spread, grouped, duplicated, locked and soloed', async ({
  page,
}) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await hand.startTemplate('Arranged')
  const at = await onScreen(page)
  for (const x of [150, 500, 1100]) {
    await page.keyboard.press('b')
    await drag(page, at(x, 300), at(x + 120, 380), ['Control'])
  }
  // Dragged to within a few px of title-safe, a part snaps to it; with Ctrl it does not.
  await drag(page, at(200, 340), at(149, 340))
  await hand.choose('Box 1')
  expect(await edgeValue(page, 'left', 'Box 1')).toBe(96)
  await drag(page, at(150, 340), at(154, 440), ['Control'])
  expect(await edgeValue(page, 'left', 'Box 1')).not.toBe(96)

  const grip = (await page.getByRole('button', { name: 'Resize Box 1 at its right' }).boundingBox())!
  const width = await edgeValue(page, 'width', 'Box 1')
  await drag(page, [grip.x + 4, grip.y + 4], [grip.x + 40, grip.y + 4])
  expect(await edgeValue(page, 'width', 'Box 1')).toBeGreaterThan(width + 60)

  // With the drawing in focus the arrows move the part; elsewhere they step through frames.
  const left = await edgeValue(page, 'left', 'Box 1')
  await page.getByRole('application').focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Shift+ArrowRight')
  expect(await edgeValue(page, 'left', 'Box 1')).toBeCloseTo(left + 11, 6)

  await hand.choose('Box 1', 'Box 2', 'Box 3')
  await page.getByRole('button', { name: 'Arrange the chosen parts' }).click()
  await page.getByRole('menuitem', { name: 'top with title-safe' }).click()
  await page.getByRole('button', { name: 'Arrange the chosen parts' }).click()
  await page.getByRole('menuitem', { name: 'even gaps across' }).click()
  const { parts } = await stored(page)
  expect(parts.map((part) => part.y.place)).toEqual([54, 54, 54])
  const edges = parts.map((part) => [part.x.place, part.x.place + (part.x.size as { value: number }).value] as const)
  expect(edges[1]![0] - edges[0]![1]).toBeCloseTo(edges[2]![0] - edges[1]![1], 3)

  await page.keyboard.press('g')
  await expect(hand.row('Group 2')).toBeVisible()
  await page.keyboard.press('Control+d')
  expect((await stored(page)).parts.map((part) => part.kind)).toEqual(['group', 'group'])
  await page.keyboard.press('Shift+G')
  expect((await stored(page)).parts).toHaveLength(4)

  await hand.choose('Box 1')
  await page.keyboard.press('Shift+L')
  await page.keyboard.press('Control+Shift+Z')
  expect(JSON.stringify(await stored(page))).toContain('"locked":true')
  await page.keyboard.press('s')
  await expect(page.getByRole('button', { name: 'Solo: end' })).toBeVisible()
  await page.keyboard.press('s')
  await page.keyboard.press('h')
  await expect(page.getByRole('button', { name: 'Show Box 1' })).toBeVisible()
  expect(wrong).toEqual([])
})

test('guides come out of the rulers, the view zooms and pans, backgrounds and crops are chosen', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await page.keyboard.press('r')
  const ruler = (await page.getByRole('img', { name: 'Ruler down' }).boundingBox())!
  const at = await onScreen(page)
  await drag(page, [ruler.x + 5, ruler.y + 200], at(700, 400))
  await expect(page.getByRole('separator', { name: /^Guide down the frame at (69\d|70\d) px/ })).toBeVisible()
  const guide = page.getByRole('separator', { name: /^Guide/ })
  await guide.press('ArrowRight')
  await guide.press('Delete')
  await expect(guide).toHaveCount(0)

  const zoom = page.getByRole('button', { name: 'Zoom', exact: true })
  await page.keyboard.press('1')
  await expect(zoom).toHaveText('100 %')
  const before = (await page.getByTestId('frame').boundingBox())!
  await page.mouse.move(640, 300)
  await page.mouse.wheel(0, 100)
  await expect.poll(async () => (await page.getByTestId('frame').boundingBox())!.y).toBeCloseTo(before.y - 100, 0)
  await page.keyboard.down('Control')
  await page.mouse.wheel(0, -200)
  await page.keyboard.up('Control')
  await expect(zoom).not.toHaveText('100 %')
  await page.keyboard.press('0')
  await expect(zoom).not.toHaveText(/[1-9]\d\d %/)

  await page.getByRole('button', { name: 'What stands behind the title' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'checks' }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'What is drawn over the frame' }).click()
  await page.getByRole('menuitemcheckbox', { name: '9:16 crop' }).click()
  await page.getByRole('menuitemcheckbox', { name: 'frames of In, faint' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('frame').getByText('9:16', { exact: true })).toBeVisible()
  await expect(page.getByRole('img', { name: 'The settled pose, faint' })).toBeVisible()
  expect(wrong).toEqual([])
})

test('a gap is dragged by its dimension line; a ring is refused and drawn on the frame', async ({ page }) => {
  const hand = new Hand(page)
  await openDraft(page, await ownTemplate(page))
  await hand.choose('Plate')
  const line = page.locator('[data-gap="Gap at the right of Plate"]')
  const box = (await line.boundingBox())!
  const right = await edgeValue(page, 'right', 'Plate')
  await drag(page, [box.x + 8, box.y + 8], [box.x + 44, box.y + 8])
  expect(await edgeValue(page, 'right', 'Plate')).toBeGreaterThan(right + 60)
  await expect(page.getByText(/^Holds to/)).toBeVisible()
  await expect(page.getByText(/^Held by/)).toBeVisible()

  await hand.choose('Edge')
  const arrows = page.locator('svg g[stroke="#b3261e"] g')
  await page.getByRole('button', { name: 'left of Edge', exact: true }).click()
  await page.getByLabel('Holds to', { exact: true }).selectOption({ label: 'Plate' })
  await expect(page.getByText('That would tie parts in a ring')).toBeVisible()
  await expect(arrows).not.toHaveCount(0)
  await page.getByLabel('Gap, px').first().fill('4')
  await page.getByLabel('Gap, px').first().press('Enter')
  await expect(arrows).toHaveCount(0)
})

test('proofs are made from the fields, kept, taken from a row; a length is swept; checks follow', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, 'speaker')
  const proofs = page.getByRole('complementary', { name: 'Proofs' })
  await expect(proofs.getByText('Made from the fields')).toBeVisible()
  await page.getByRole('slider', { name: 'Length of Name, characters' }).fill('80')
  await expect(page.getByText('In the frame: length of Name')).toBeVisible()
  await page.getByRole('button', { name: 'as drawn again' }).click()

  const missing = proofs.getByRole('button', { name: /mark missing/ }).first()
  await missing.scrollIntoViewIfNeeded()
  await expect(missing).toContainText('stop: no such picture')
  await missing.hover()
  await page.getByRole('button', { name: 'More for the proof mark missing' }).click()
  await chooseSlowly(page, 'Keep with the template')
  await expect(proofs.getByRole('button', { name: /6 mark missing/ })).toBeVisible()

  await proofs.getByRole('button', { name: '+ Add' }).click()
  await page.getByRole('menuitem', { name: 'a row of a sheet' }).click()
  await page.getByRole('dialog').getByLabel('Row').selectOption({ index: 3 })
  await page.getByRole('button', { name: 'Take this row' }).click()
  expect((await stored(page)).proofs).toHaveLength(7)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await saved(page)
  expect(wrong).toEqual([])
})

test('keys of several parts are chosen, moved, reversed, spread, offset, copied and taken off', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await openDraft(page, await ownTemplate(page))
  const time = page.getByRole('region', { name: 'Time' })
  const keys = async (entry: string) => {
    await time.getByRole('button', { name: 'Keys', exact: true }).click()
    await page.getByRole('menuitem', { name: entry }).click()
  }
  const fade = async (part: string) => {
    const { parts } = await stored(page)
    return parts.find((one) => one.name === part)!.motion.tracks.fade?.keys.map((key) => [key.at, key.value]) ?? []
  }
  await hand.choose('Mark')
  await keys('All its keys')
  await time.getByRole('button', { name: 'Keys of Mark at in 7' }).press('ArrowRight')
  expect(await fade('Mark')).toEqual([
    [8, 0],
    [13, 1],
  ])
  await keys('Reverse in time')
  expect(await fade('Mark')).toEqual([
    [8, 1],
    [13, 0],
  ])
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await keys('All its keys')
  await keys('Copy')
  await hand.choose('Edge')
  await page.keyboard.press('Home')
  await keys('Paste at frame 0 on the chosen part')
  expect(await fade('Edge')).toEqual([
    [0, 0],
    [5, 1],
  ])
  await hand.choose('Mark', 'Edge')
  await keys('First keys to frame 0')
  expect((await fade('Mark'))[0]).toEqual([0, 0])
  await hand.choose('Edge')
  await keys('Out has keys of its own')
  const edge = (await stored(page)).parts.find((one) => one.name === 'Edge')!
  expect(edge.motion.out).toBe('own')
  expect(edge.motion.tracks.fade!.keys.filter((key) => key.span === 'out')).toHaveLength(2)
  await keys('Reset the motion')
  expect((await stored(page)).parts.find((one) => one.name === 'Edge')!.motion.tracks).toEqual({})

  // A channel is opened, and keyed at the playhead.
  await hand.choose('Highlight')
  await time.getByRole('button', { name: 'Open the channels of Highlight' }).click()
  await expect(time.getByRole('group', { name: 'Keys of Highlight, Fade' })).toBeVisible()
  await hand.choose('Highlight')
  await page.keyboard.press('Home')
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
  await hand.tab('Motion')
  await hand.number(page.getByLabel('Fade at the playhead'), 0.5)
  expect(await fade('Highlight')).toContainEqual([4, 0.5])

  // Playing: half speed, and a span over and over.
  await time.getByRole('button', { name: 'Loop the span under the playhead' }).click()
  await time.getByTitle('Play at half speed').click()
  await page.keyboard.press(' ')
  // It begins anew before In is over, and never gets past it.
  let [last, furthest] = [0, 0]
  await expect
    .poll(
      async () => {
        const label = await page.getByRole('img', { name: /^Frame \d+ of/ }).getAttribute('aria-label')
        const frame = Number(/^Frame (\d+)/.exec(label!)![1])
        const isBack = frame < last
        last = frame
        furthest = Math.max(furthest, frame)
        return isBack
      },
      { intervals: [40] },
    )
    .toBe(true)
  expect(furthest).toBeLessThan(15)
  expect(wrong).toEqual([])
})

test('an easing is drawn as value and as speed; presets and steps; moves are saved and put on Out', async ({
  page,
}) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  const id = await ownTemplate(page)
  await openDraft(page, id)
  await hand.choose('Mark')
  await hand.tab('Easing')
  const ease = async () => {
    const { parts } = await stored(page)
    return parts.find((one) => one.name === 'Mark')!.motion.tracks.fade!.keys[0]!.ease
  }
  await page.getByRole('tabpanel').getByRole('button', { name: 'Tide', exact: true }).click()
  expect(await ease()).toEqual({ bezier: [0.42, 0, 0.58, 1] })
  const handle = (await page.getByRole('slider', { name: 'Handle that leaves' }).boundingBox())!
  await drag(page, [handle.x + 6, handle.y + 6], [handle.x + 46, handle.y - 20])
  expect(await ease()).not.toEqual({ bezier: [0.42, 0, 0.58, 1] })
  await page.getByRole('radio', { name: 'speed' }).click()
  const before = await ease()
  const speed = (await page.getByRole('slider', { name: 'Handle that arrives' }).boundingBox())!
  await drag(page, [speed.x + 6, speed.y + 6], [speed.x - 20, speed.y - 30])
  expect(await ease()).not.toEqual(before)
  await page.getByLabel('Kind of easing').selectOption('steps')
  expect(await ease()).toEqual({ steps: 4, jump: 'end' })

  await hand.tab('Moves')
  const name = `Mine ${id}`
  await page.getByLabel('Name of the new move').fill(name)
  await page.getByRole('button', { name: 'Save as a move' }).click()
  await expect(page.getByText(`"${name}" is in the library.`)).toBeVisible()
  await hand.choose('Plate')
  await page.getByRole('radio', { name: 'On Out, backwards' }).click()
  await page.getByRole('button', { name: new RegExp(`^${name}:`) }).click()
  const plate = (await stored(page)).parts.find((one) => one.name === 'Plate')!
  expect(plate.motion.out).toBe('own')
  expect(plate.motion.tracks.fade!.keys.every((key) => key.span === 'out')).toBe(true)
  await page.getByRole('button', { name: `Remove the move ${name}` }).click()
  await expect(page.getByRole('button', { name: new RegExp(`^${name}:`) })).toHaveCount(0)
  expect(wrong).toEqual([])
})

test('parts are copied from one template into another with their fields, fonts and pictures', async ({ page }) => {
  const hand = new Hand(page)
  await openDraft(page, await ownTemplate(page))
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+c')
  await expect(page.getByText(/parts are copied, with all they use/)).toBeVisible()
  await hand.startTemplate('Pasted into')
  await page.keyboard.press('Control+v')
  await expect(hand.row('Mount')).toBeVisible()
  const template = await stored(page)
  expect(template.fields.map((field) => field.key).sort()).toEqual(['mark', 'name', 'role'])
  expect(template.media.map((media) => media.name)).toContain('vado.png')
  expect(template.palette.map((entry) => entry.name)).toContain('Lamp amber')
})

test('everything has a name in the palette of commands and the sheet of shortcuts', async ({ page }) => {
  const hand = new Hand(page)
  await openDraft(page, await ownTemplate(page))
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('What should happen?').fill('choose role')
  await page.keyboard.press('Enter')
  await expect(hand.row('Role').getByRole('button').first()).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('What should happen?').fill('shingle')
  await page.keyboard.press('Enter')
  const template = await stored(page)
  expect(JSON.stringify(template)).toContain('"order":"random"')
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Shortcuts' }).getByText('draw a box')).toBeVisible()
})

test('the frame is made larger and faster later; ties keep their meaning, times their seconds', async ({ page }) => {
  const hand = new Hand(page)
  await openDraft(page, await ownTemplate(page))
  await hand.frame({ size: 'UHD, 3840 × 2160', rate: '50' })
  const template = await stored(page)
  expect(template.frame).toMatchObject({ width: 3840, height: 2160, rate: { num: 50, den: 1 } })
  expect(template.spans).toMatchObject({ in: 30, out: 30, hold: { frames: 190 } })
  await hand.choose('Edge')
  expect(await edgeValue(page, 'left', 'Edge')).toBe(192)
  expect(await edgeValue(page, 'width', 'Edge')).toBe(20)
})

test('SVG artwork becomes paths; what says more comes in as a picture; a palette change recolours all', async ({
  page,
}) => {
  const hand = new Hand(page)
  await openDraft(page, await ownTemplate(page))
  const picker = page.getByLabel('Add fonts, pictures and sounds')
  const file = (name: string, inside: string) => ({
    name,
    mimeType: 'image/svg+xml',
    buffer: Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 60">${inside}</svg>`),
  })
  await picker.setInputFiles(
    file(
      'wave.svg',
      '<path d="M0 30q30-30 60 0t60 0" fill="none" stroke="teal" stroke-width="4"/><circle r="9" cx="60" cy="9"/>',
    ),
  )
  await expect(hand.row('wave')).toBeVisible()
  await picker.setInputFiles(file('label.svg', '<text y="30">Ebb</text>'))
  await expect(
    page.getByText(/label\.svg holds text, more than parts can say, so it came in as a picture/),
  ).toBeVisible()
  const png = readFileSync('demo/templates/species/media/eel.png')
  const stack =
    '<image w="300" h="300"><stack><layer name="Eel" src="data/1.png" x="20" y="30" opacity="0.5"/><layer name="Below" src="data/1.png"/></stack></image>'
  const ora = zipSync({ mimetype: strToU8('image/openraster'), 'stack.xml': strToU8(stack), 'data/1.png': png })
  await picker.setInputFiles({ name: 'Quay.ora', mimeType: 'image/openraster', buffer: Buffer.from(ora) })
  await expect(hand.row('Quay')).toBeVisible()
  const template = await stored(page)
  expect(template.parts.find((part) => part.name === 'wave')!.parts).toHaveLength(2)
  const layers = template.parts.find((part) => part.name === 'Quay')!.parts!
  expect(layers.map(({ name, style }) => [name, (style as { opacity?: number }).opacity])).toEqual([
    ['Below', undefined],
    ['Eel', 0.5],
  ])
  expect(template.media.map((media) => media.name)).toContain('label.png')

  await page.getByRole('button', { name: 'Palette colour Lamp amber' }).click()
  await expect(page.getByText(/used \d+ times|used once/)).toBeVisible()
  await page.getByLabel('Colour as #rrggbb').fill('#ff0066')
  await page.getByLabel('Colour as #rrggbb').press('Enter')
  expect((await stored(page)).palette.find((entry) => entry.name === 'Lamp amber')!.colour).toBe('#ff0066')
})

test('the desk fits the work: borders are dragged, panels fold, and it stays so', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await openDraft(page, await ownTemplate(page))
  const frame = page.getByTestId('frame')
  const wide = async () => (await frame.boundingBox())!.width
  const before = await wide()
  // The border below the frame, dragged down.
  const border = page.getByRole('separator', { name: 'Border of the frame and what is below it' })
  const line = (await border.boundingBox())!
  await drag(page, [line.x + 300, line.y], [line.x + 300, line.y + 90])
  await expect.poll(wide).toBeGreaterThan(before + 5)
  // The parts fold by their button, the proofs by a key; a strip brings each back.
  await page.getByRole('button', { name: 'Fold parts away' }).click()
  await expect(page.getByRole('complementary', { name: 'Parts' })).toBeHidden()
  await page.keyboard.press(']')
  await expect(page.getByRole('complementary', { name: 'Proofs' })).toBeHidden()
  await expect.poll(wide).toBeGreaterThan(before * 1.15)
  await page.reload()
  await expect(page.getByRole('button', { name: 'Parts', exact: true })).toBeVisible()
  await expect(page.getByRole('complementary', { name: 'Proofs' })).toBeHidden()
  await expect.poll(wide).toBeGreaterThan(before * 1.15)
  await page.getByRole('button', { name: 'Proofs', exact: true }).click()
  await expect(page.getByRole('complementary', { name: 'Proofs' })).toBeVisible()
  await page.keyboard.press('[')
  await expect(page.getByRole('complementary', { name: 'Parts' })).toBeVisible()
  // By the keyboard alone: the border of the parts moves by the arrows.
  const parts = page.getByRole('complementary', { name: 'Parts' })
  const narrow = (await parts.boundingBox())!.width
  await page.getByRole('separator', { name: 'Border of parts and the frame' }).focus()
  await page.keyboard.press('ArrowRight')
  await expect.poll(async () => (await parts.boundingBox())!.width).toBeGreaterThan(narrow)
  // An upright frame stands at full height beside its panels; below it they come by a key.
  await hand.frame({ size: 'upright, 1080 × 1920' })
  const tall = async () => (await frame.boundingBox())!.height
  await expect.poll(tall).toBeGreaterThan(600)
  await page.keyboard.press('Shift+B')
  await expect.poll(tall).toBeLessThan(560)
  expect(wrong).toEqual([])
})

test('the way of the chosen part is on the frame, and its keys are dragged where they are', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  const hand = new Hand(page)
  await hand.choose('Mark')
  const way = page.getByRole('group', { name: 'The way of Mark' })
  await expect(way).toHaveCount(0)
  await hand.choose('Name')
  const shown = page.getByRole('group', { name: 'The way of Name' })
  const key = shown.getByRole('button', { name: /^The way of Name at in/ }).first()
  const before = (await key.boundingBox())!
  await drag(page, [before.x + 4, before.y + 8], [before.x + 4, before.y - 52])
  await expect.poll(async () => (await key.boundingBox())!.y).toBeCloseTo(before.y - 60, -1)
  // One step of undo; Shift P shows it no longer.
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect.poll(async () => (await key.boundingBox())!.y).toBeCloseTo(before.y, 0)
  await page.keyboard.press('Shift+P')
  await expect(shown).toHaveCount(0)
  expect(wrong).toEqual([])
})
