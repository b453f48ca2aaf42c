import { readFileSync } from 'node:fs'
import { allParts } from '@hoja/core/template'
import { Hand } from './hand.ts'
import { choose, complaints, editorsForm, openDraft, ownTemplate, proofSays, stored } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const part = async (page: Page, name: string) => allParts((await stored(page)).parts).find((one) => one.name === name)!
const proofs = (page: Page) => page.getByRole('complementary', { name: 'Proofs' })

// Walks docs/how-to/running-texts.md: its headings are the steps, and what it says is what is done.
test('docs/how-to/running-texts.md, step by step', async ({ page }) => {
  const wrong = complaints(page)
  const text = readFileSync('docs/how-to/running-texts.md', 'utf8')
  const headings = [...text.matchAll(/^## (.+)$/gm)].map((match) => match[1])
  const walked: string[] = []
  const step = async (name: string, work: () => Promise<void>) => {
    walked.push(name)
    await test.step(name, work)
  }
  const hand = new Hand(page)
  const speaker = await ownTemplate(page)

  await step('1. Let texts come in turn', async () => {
    await openDraft(page, speaker)
    await hand.handoff()
    await hand.list('Role', [
      'Salt-marsh ecologist',
      'Counts every bird of the estuary, whatever the weather',
      'Speaks tonight at 19:15',
    ])
    await hand.draft()
    await choose(page, 'Role')
    await hand.style({ 'List entries': 'in turn' })
    const hold = page.getByLabel('Length of hold')
    await expect(hold).toBeDisabled()
    // 20, 54 and 23 characters at 17 a second, two seconds at least, and two changes.
    const whole = Number(await hold.inputValue())
    expect(whole).toBeGreaterThan(50 + Math.ceil((54 / 17) * 25) + 50)
    const strip = page.getByRole('img', { name: /^In In \d+ f, Hold/ })
    for (const number of ['1', '2', '3']) await expect(strip.getByText(number, { exact: true })).toBeVisible()
    await hand.style({ 'Each entry stands': 'its share of Hold' })
    await expect(hold).toBeEnabled()
    await hand.style({ 'Each entry stands': 'as long as it takes to read' })
    await expect(hold).toHaveValue(String(whole))
  })

  await step('2. See them in the proofs', async () => {
    await proofSays(page, 'shortest', /fine/)
    await hand.handoff()
    await hand.list('Role', ['Salt-marsh ecologist', 'Wonderful '.repeat(12).trim(), 'Speaks tonight at 19:15'])
    await hand.draft()
    await expect(
      proofs(page)
        .getByText(/Text 2 of 3: Role/)
        .first(),
    ).toBeVisible()
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(proofs(page).getByText(/Text 2 of 3: Role/)).toHaveCount(0)
  })

  await step('3. Roll credits from a sheet', async () => {
    const credits = await ownTemplate(page, 'credits')
    await openDraft(page, credits)
    await choose(page, 'Roll')
    await hand.style({ Speed: 150 })
    await page.getByRole('button', { name: /^Publish version/ }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Publish', exact: true }).click()
    await expect(page.getByRole('button', { name: /is published/ })).toBeVisible()
    await page.goto(`/t/${credits}/fill`)
    const rows = [
      'Heading,Role,Name',
      'On the quay,,',
      ',Camera,Ágnes Szőlősi',
      ',,Pau Ferrer i Roig',
      '---,,',
      'Music,,',
      ',Fiddle,Oisín Mac Giolla',
    ]
    await page
      .getByLabel('Data file')
      .setInputFiles({ name: 'week.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) })
    const dialog = page.getByRole('dialog')
    await expect(dialog.getByRole('radio', { name: 'one title together' })).toBeChecked()
    await expect(dialog.getByText('6 rows, as they come in: one title')).toBeVisible()
    await dialog.getByRole('radio', { name: 'a title each' }).click()
    await expect(dialog.getByText('The first of 6 rows, as they come in')).toBeVisible()
    await dialog.getByRole('radio', { name: 'one title together' }).click()
    await dialog.getByRole('button', { name: 'Bring in one title of 6 rows' }).click()
    await expect(dialog).toHaveCount(0)
    await expect(page.getByRole('region', { name: 'Row 1', exact: true })).toBeVisible()
    // What goes together is one table: a name is typed beside what was done, and one more entry put behind.
    const entries = page.getByRole('region', { name: 'Entries of row 1' })
    await expect(entries.getByText('6 entries')).toBeVisible()
    const name = entries.getByRole('textbox', { name: 'Name of entry 3' })
    await expect(name).toHaveValue('Pau Ferrer i Roig')
    const { x, y, width, height } = (await name.boundingBox())!
    await page.mouse.dblclick(x + width / 2, y + height / 2)
    await page.keyboard.press('Control+a')
    await page.keyboard.type('Lina Haddad')
    await page.keyboard.press('Enter')
    await expect(name).toHaveValue('Lina Haddad')
    await entries.getByRole('button', { name: '+ entry' }).click()
    await expect(entries.getByText('7 entries')).toBeVisible()
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(entries.getByText('6 entries')).toBeVisible()
  })

  await step('4. Move long and short bars alike', async () => {
    await openDraft(page, speaker)
    await choose(page, 'Plate')
    await hand.tab('Motion')
    const grow = page.getByRole('group', { name: 'Grow', exact: true })
    await hand.number(grow.getByLabel('Speed, px/s').last(), 3500)
    await expect
      .poll(async () => (await part(page, 'Plate')).motion.tracks.grow!.keys.map(({ speed }) => speed))
      .toEqual([undefined, 3500])
    // Its time is that of its way as it is drawn; brought to a frame by hand, it has that one.
    await hand.number(grow.getByLabel('Frame', { exact: true }).last(), 12)
    await expect(grow.getByLabel('Speed, px/s').last()).toHaveValue('0')
  })

  await step('5. Let letters settle, and numbers count', async () => {
    await choose(page, 'Name')
    for (const move of ['Arrivals', 'Quill', 'Tally', 'Static clears']) {
      await hand.move(move)
      await expect(page.getByRole('button', { name: new RegExp(`^${move}:`) })).toBeVisible()
    }
    const { segments } = (await part(page, 'Name')).motion
    expect(segments!.tracks.settle).toMatchObject({ as: 'scramble', from: 'alphabet' })
  })

  await step('6. Say now', async () => {
    const slate = await ownTemplate(page, 'slate')
    await page.goto(`/t/${slate}/handoff`)
    await editorsForm(page).getByRole('button', { name: 'Date', exact: true }).click()
    await expect(page.getByLabel('Left empty')).toHaveValue('now')
    await editorsForm(page).getByRole('button', { name: 'Runs', exact: true }).click()
    await expect(page.getByLabel('Left empty')).toHaveValue('length')
    await editorsForm(page).getByRole('button', { name: 'Number', exact: true }).click()
    await expect(page.getByLabel('Left empty')).toHaveValue('row')
  })

  await step('7. Run a text along a path', async () => {
    await openDraft(page, speaker)
    await hand.add('ellipse', 'Ring')
    await choose(page, 'Name')
    await hand.style({ 'Runs along': 'Ring', 'Starts along at': 25, 'Letters along': 'stand upright' })
    await hand.tab('Motion')
    await page.getByLabel('Key a channel', { exact: true }).selectOption({ label: 'Travel along' })
    const own = await part(page, 'Name')
    expect(own.style).toMatchObject({ alongStart: 0.25, alongTurns: 'stand upright' })
    expect(own.motion.tracks.travel!.keys).toHaveLength(2)
    // What is tied to the text that runs along it cannot be the way itself.
    await expect(page.getByTestId('frame')).toBeVisible()
  })

  expect(walked).toEqual(headings)
  expect(wrong).toEqual([])
})
