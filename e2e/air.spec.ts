import { readFileSync } from 'node:fs'
import AxeBuilder from '@axe-core/playwright'
import { PNG } from 'pngjs'
import { drag } from './hand.ts'
import { complaints, openDraft, ownTemplate } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const guide = readFileSync('docs/how-to/on-air.md', 'utf8')
const headings = [...guide.matchAll(/^## (\d+\. .+)$/gm)].map((match) => match[1]!)

const list = (page: Page) => page.getByRole('complementary', { name: 'Running list' })
const row = (page: Page, words: string) => list(page).getByRole('listitem').filter({ hasText: words })
const strip = (page: Page) => page.getByRole('status', { name: 'Where it stands' })
const upFields = (page: Page) => page.getByRole('region', { name: 'What may change while it is up' })
const nextWords = (page: Page) => page.getByRole('region', { name: 'Words of the next title' })

/** How many pixels of an output page are seen, where they begin and end across, and how bright they are together. */
async function seen(page: Page): Promise<{ pixels: number; from: number; to: number; light: number }> {
  return page.evaluate(() => {
    const canvas = document.querySelector('canvas')
    if (!canvas) return { pixels: 0, from: 0, to: 0, light: 0 }
    const { data, width } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
    let [pixels, from, to, light] = [0, canvas.width, 0, 0]
    for (let i = 3; i < data.length; i += 4)
      if (data[i]! > 200) {
        pixels++
        light += data[i - 3]! + data[i - 2]! + data[i - 1]!
        const x = ((i - 3) / 4) % width
        from = Math.min(from, x)
        to = Math.max(to, x)
      }
    return { pixels, from, to, light }
  })
}

/** An output page of a channel, in a tab of its own. */
async function outputOf(page: Page, channel: string, query = ''): Promise<Page> {
  const output = await page.context().newPage()
  await output.setViewportSize({ width: 1920, height: 1080 })
  await output.goto(`/out/${channel}${query}`)
  await output.locator('canvas').waitFor({ state: 'attached' })
  return output
}

async function openAir(page: Page, channel: string): Promise<void> {
  await page.goto(`/air/${channel}`)
  await expect(page.getByRole('img', { name: 'What is going out' })).toBeVisible()
}

test.describe.configure({ mode: 'serial' })

test('the whole way on air, with an output page beside it', async ({ page }) => {
  const wrong = complaints(page)
  const walked: string[] = []
  const walk = async (heading: string, work: () => Promise<void>) => {
    await test.step(heading, work)
    walked.push(heading)
  }
  let output = page
  await walk('1. Open a channel, and its output page', async () => {
    await page.goto('/')
    await page.getByRole('link', { name: 'On air' }).click()
    await page.getByRole('link', { name: 'Lower third' }).click()
    await expect(page.getByText('no page shows /out/lower-third')).toBeVisible()
    output = await outputOf(page, 'lower-third')
    await page.bringToFront()
    await expect(page.getByText('1 page shows /out/lower-third')).toBeVisible()
    expect(await seen(output)).toMatchObject({ pixels: 0 })
    expect(await output.evaluate(() => getComputedStyle(document.body).backgroundColor)).toBe('rgba(0, 0, 0, 0)')
  })
  await walk('2. Take, and take out', async () => {
    await expect(row(page, 'Io Marrec')).toContainText('next')
    await expect(row(page, 'Io Marrec')).toContainText('fine')
    await page.keyboard.press('Enter')
    await expect(strip(page)).toContainText('holds until it is taken out')
    await expect(row(page, 'Io Marrec')).toContainText('up')
    expect((await seen(output)).pixels).toBeGreaterThan(20_000)
    await page.keyboard.press('o')
    await expect(page.getByText('Nothing is up.')).toBeVisible()
    await expect.poll(async () => (await seen(output)).pixels).toBe(0)
    await expect(row(page, 'Io Marrec')).toContainText('done')
    await expect(row(page, 'Ngọc Ánh Đặng')).toContainText('next')
    await page.keyboard.press('ArrowUp')
    await expect(row(page, 'Io Marrec')).toContainText('next')
    await page.keyboard.press('Enter')
    await expect(strip(page)).toContainText('holds')
    await page.keyboard.press('x')
    await expect.poll(async () => (await seen(output)).pixels).toBe(0)
    await page.keyboard.press('ArrowUp')
  })
  await walk('3. Take one over another', async () => {
    await page.keyboard.press('Enter')
    await expect(strip(page)).toContainText('holds')
    const before = await seen(output)
    await expect(page.getByText(/^Going over: \w+ travels from \d+ to \d+ px in \d+ frames\.$/)).toBeVisible()
    await row(page, 'Maren Oduya-Castellví').click()
    await expect(row(page, 'Maren Oduya-Castellví')).toContainText('next')
    await page.keyboard.press('Enter')
    await expect(row(page, 'Maren Oduya-Castellví')).toContainText('up')
    await expect.poll(async () => (await seen(output)).to).toBeGreaterThan(before.to + 100)
    expect((await seen(output)).from).toBe(before.from)
  })
  await walk('4. Change what is up', async () => {
    await expect(upFields(page).getByText('locked while it is up')).toHaveCount(2)
    const role = upFields(page).getByLabel('Role')
    await role.fill('Ecologist')
    await expect(upFields(page).getByText('not out yet')).toBeVisible()
    const before = await seen(output)
    await page.keyboard.press('Enter')
    await expect(upFields(page).getByText('not out yet')).toBeHidden()
    await expect.poll(async () => (await seen(output)).light).not.toBe(before.light)
    // The server refuses what the form does not offer.
    const answer = await page.request.post('/api/air/lower-third/update', {
      data: { cells: { name: 'Somebody else' } },
    })
    expect(answer.status()).toBe(409)
    expect(((await answer.json()) as { detail: string }).detail).toContain('"name" is locked while "Speaker" is up')
  })
  await walk('5. Write the next one while another is up', async () => {
    await row(page, 'Świętosława Brzeg').click()
    await expect(strip(page)).toContainText('holds')
    const before = await seen(output)
    await nextWords(page).getByLabel('Role').fill('Pilot of the outer harbour')
    await expect(row(page, 'Pilot of the outer harbour')).toBeVisible()
    expect(await seen(output)).toEqual(before)
    await nextWords(page).getByLabel('How long it is held').selectOption({ label: 'for a time' })
    await nextWords(page).getByLabel('Seconds').fill('2')
    await page.keyboard.press('Enter')
    await page
      .getByRole('main')
      .or(page.locator('body'))
      .first()
      .click({ position: { x: 900, y: 790 } })
    await page.keyboard.press('Enter')
    await expect(row(page, 'Świętosława Brzeg')).toContainText('up')
    await expect(strip(page)).toContainText(/leaves in|leaving/)
    await expect(page.getByText('Nothing is up.')).toBeVisible()
  })
  await walk('6. Titles that must not go out', async () => {
    await row(page, 'Aoife Ní Loingsigh').click()
    await nextWords(page).getByLabel('Name', { exact: true }).fill('')
    await expect(row(page, 'Salt-marsh ecologist').last()).toContainText('stop')
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: /^Take Enter/ }).click()
    const alert = page.getByRole('alert')
    await expect(alert).toContainText('This title must not go out')
    expect((await seen(output)).pixels).toBe(0)
    await page.keyboard.press('Escape')
    await expect(alert).toBeHidden()
    await page.getByRole('button', { name: /^Take Enter/ }).click()
    await alert.getByRole('button', { name: /Take it all the same/ }).click()
    await expect(strip(page)).toContainText('holds')
    await page.getByRole('button', { name: 'Take everything out' }).click()
    await expect(page.getByText('Nothing is up.')).toBeVisible()
  })
  await walk('7. The running list', async () => {
    await page.getByRole('button', { name: '+ titles' }).click()
    const dialog = page.getByRole('dialog', { name: 'Titles for the running list' })
    await dialog.getByLabel('Sheet').selectOption({ label: 'speakers.csv, Speaker 1' })
    await dialog.getByLabel('Find a row').fill('Tam')
    await dialog.getByRole('listitem').filter({ hasText: 'Tamsin' }).getByRole('checkbox').check()
    await dialog.getByRole('button', { name: 'Add 1 title' }).click()
    await expect(row(page, 'Tamsin')).toBeVisible()
    await drag(page, row(page, 'Tamsin'), row(page, 'Io Marrec'))
    await expect(list(page).getByRole('listitem').first()).toContainText('Tamsin')
    await page.keyboard.press('f')
    await page.keyboard.type('gwyn')
    await expect(list(page).getByRole('listitem')).toHaveCount(1)
    await page.keyboard.press('Enter')
    await expect(row(page, 'Gwyneth Pugh')).toContainText('next')
    await expect(list(page).getByRole('listitem').first()).toContainText('Tamsin')
    await row(page, 'Tamsin').click({ button: 'right' })
    await page.getByRole('menuitem', { name: 'Remove from the list' }).click()
    await expect(row(page, 'Tamsin')).toBeHidden()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(list(page).getByRole('listitem').first()).toContainText('Tamsin')
  })
  await walk('8. A crawl', async () => {
    await page.getByRole('link', { name: 'Crawl', exact: true }).click()
    const crawl = await outputOf(page, 'crawl')
    await page.bringToFront()
    await expect(row(page, 'The causeway')).toContainText('next')
    await page.keyboard.press('Enter')
    const panel = page.getByRole('region', { name: 'Crawl' })
    await expect(panel).toContainText(/250 px\/s, 7 items, the next in \d+ s/)
    await panel.getByLabel('A notice before all others').fill('The ferry bridge is closed')
    await page.keyboard.press('Enter')
    await expect(panel).toContainText('Then: The ferry bridge is closed')
    await panel.getByRole('button', { name: 'Pause' }).click()
    await expect(panel).toContainText('paused')
    // Frames that were drawn in twelve of the display.
    const drawn = () =>
      crawl.evaluate(
        () =>
          new Promise<number>((done) => {
            const frames = new Set<string>()
            let left = 12
            requestAnimationFrame(function look() {
              frames.add(document.querySelector('canvas')!.dataset.frame!)
              if (--left > 0) requestAnimationFrame(look)
              else done(frames.size)
            })
          }),
      )
    await expect.poll(drawn).toBe(1)
    await panel.getByRole('button', { name: 'Go on' }).click()
    await expect.poll(drawn).toBeGreaterThan(5)
    await page.getByRole('button', { name: 'Take everything out' }).click()
    await crawl.close()
  })
  await walk('9. Rehearse', async () => {
    await page.getByRole('link', { name: 'Lower third' }).click()
    await expect(row(page, 'Gwyneth Pugh')).toContainText('next')
    await page.getByRole('button', { name: 'Rehearse' }).click()
    await expect(page.getByText('nothing of this goes out')).toBeVisible()
    await page.keyboard.press('Enter')
    await expect(strip(page)).toContainText('holds')
    expect((await seen(output)).pixels).toBe(0)
    await page.getByRole('button', { name: 'End the rehearsal' }).click()
    await expect(page.getByText('Nothing is up.')).toBeVisible()
    await expect(row(page, 'Gwyneth Pugh')).toContainText('next')
  })
  await walk('10. What was on air', async () => {
    const log = page.getByRole('region', { name: 'What was on air' })
    await expect(log.getByRole('listitem').first()).toContainText('out')
    await expect(log.getByText('Gwyneth')).toBeHidden()
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      log.getByRole('link', { name: 'csv' }).click(),
    ])
    const lines = readFileSync(await download.path(), 'utf8')
      .trim()
      .split('\n')
    expect(lines[0]).toContain('at,layer,what,words')
    expect(lines[1]).toContain('Titles,up,Io Marrec · Tide-mill keeper,Speaker,1,hand')
  })
  expect(walked).toEqual(headings)
  expect(wrong).toEqual([])
})

test('two output pages show the same frame, what is seen is what was next, and fill and key are its two halves', async ({
  page,
}) => {
  await openAir(page, 'lower-third')
  const pages = [await outputOf(page, 'lower-third'), await outputOf(page, 'lower-third')]
  const [fill, key, next] = [
    await outputOf(page, 'lower-third', '?view=fill'),
    await outputOf(page, 'lower-third', '?view=key'),
    await outputOf(page, 'lower-third', '?view=next'),
  ]
  const pixelsOf = async (output: Page) => {
    await output.bringToFront()
    return PNG.sync.read(await output.screenshot({ omitBackground: true }))
  }
  await page.bringToFront()
  await row(page, 'Io Marrec').click()
  await expect(row(page, 'Io Marrec')).toContainText('next')
  await expect.poll(async () => (await seen(next)).pixels).toBeGreaterThan(20_000)
  const preview = await pixelsOf(next)
  await page.bringToFront()
  await page.keyboard.press('Enter')
  await expect(strip(page)).toContainText('holds')
  const stands = await pixelsOf(pages[0]!)
  // What was next is what is up, to the byte.
  expect(Buffer.compare(stands.data, preview.data)).toBe(0)
  expect(Buffer.compare((await pixelsOf(pages[1]!)).data, stands.data)).toBe(0)
  const [over, alpha] = [await pixelsOf(fill), await pixelsOf(key)]
  for (let i = 0; i < stands.data.length; i += 4) {
    const seenHere = stands.data[i + 3]!
    if (Math.abs(alpha.data[i]! - seenHere) > 1) throw new Error(`key at ${i / 4}: ${alpha.data[i]} of ${seenHere}`)
    const premultiplied = (stands.data[i]! * seenHere) / 255
    if (Math.abs(over.data[i]! - premultiplied) > 2) throw new Error(`fill at ${i / 4}`)
  }
  for (const output of [fill, key, next]) await output.close()
  // While it moves: the frames that two pages show at once, by the server's clock.
  await page.bringToFront()
  await row(page, 'Maren Oduya-Castellví').click()
  await expect(row(page, 'Maren Oduya-Castellví')).toContainText('next')
  const watch = pages.map((output) =>
    output.evaluate(
      () =>
        new Promise<[number, number][]>((done) => {
          // Every frame that is drawn: when the display began it, and which.
          const drawn: [number, number][] = []
          const canvas = document.querySelector('canvas')!
          const observer = new MutationObserver(() => {
            drawn.push([Number(canvas.dataset.at), Number(canvas.dataset.frame)])
            if (drawn.length > 1) return
            setTimeout(() => {
              observer.disconnect()
              done(drawn)
            }, 450)
          })
          observer.observe(canvas, { attributeFilter: ['data-frame'] })
        }),
    ),
  )
  await page.keyboard.press('Enter')
  const [one, other] = await Promise.all(watch)
  // One clock says which frame is shown: between any two, on whichever page, lie as many as their moments say, so that at one
  // moment both show the same frame or its neighbour.
  const frameMs = 20
  expect(Math.min(one!.length, other!.length)).toBeGreaterThan(1)
  for (const [at, frame] of one!)
    for (const [otherAt, otherFrame] of other!)
      expect(Math.abs(frame - otherFrame - (at - otherAt) / frameMs)).toBeLessThan(2)
  await page.getByRole('button', { name: 'Take everything out' }).click()
  await expect(page.getByText('Nothing is up.')).toBeVisible()
  for (const output of pages) await output.close()
})

test('the desk can be read and reached: accessibility, a channel made and removed, live fields by a hand', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openAir(page, 'corner')
  await expect(row(page, 'Puerto Brisal')).toContainText('fine')
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html.slice(0, 120))])).toEqual([])
  await page.getByRole('button', { name: 'New channel' }).click()
  const dialog = page.getByRole('dialog', { name: 'New channel' })
  await dialog.getByLabel('Name').fill('Quay, screen 2')
  await expect(dialog.getByText('its page will be /out/quay-screen-2')).toBeVisible()
  await dialog.getByLabel('Layers').fill('Titles, Tide')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing waits yet')).toBeVisible()
  await page.getByRole('button', { name: 'Add titles' }).click()
  const adding = page.getByRole('dialog', { name: 'Titles for the running list' })
  await adding.getByLabel('From').selectOption({ label: 'a template: one title' })
  await adding.getByLabel('Template').selectOption({ label: 'Tide' })
  await adding.getByLabel('Layer').selectOption({ label: 'Tide' })
  await adding.getByRole('button', { name: 'Add it' }).click()
  await expect(row(page, 'Puerto Brisal, outer mole')).toContainText('next')
  await nextWords(page).getByRole('button', { name: 'by hand …' }).nth(1).click()
  const live = page.getByRole('dialog', { name: 'What changes “Height”' })
  await live.getByLabel('Sheet').selectOption({ label: 'tide.json, Tide' })
  await live.getByLabel('Row').selectOption({ index: 3 })
  await live.getByLabel('Column').selectOption({ label: 'height' })
  await expect(live.getByLabel('Path')).toHaveValue("$[1]['height']")
  await live.getByRole('button', { name: 'Keep it' }).click()
  await expect(nextWords(page).getByRole('button', { name: 'live …' })).toBeVisible()
  await page.locator('body').click({ position: { x: 900, y: 790 } })
  await page.keyboard.press('Enter')
  await expect(upFields(page).getByText(/^live, read \d+ s ago$/)).toBeVisible()
  await upFields(page).getByLabel('Height').fill('1.11')
  await page.keyboard.press('Enter')
  await upFields(page).getByRole('button', { name: 'by hand: release' }).click()
  await expect(upFields(page).getByText(/^live, read \d+ s ago$/)).toBeVisible()
  page.on('dialog', (asked) => void asked.accept())
  await page.getByRole('button', { name: 'More of this channel' }).click()
  await page.getByRole('menuitem', { name: 'Remove the channel …' }).click()
  await expect(page.getByText('Something is up on Tide; take it out first.')).toBeVisible()
  await page.keyboard.press('x')
  await expect(page.getByText('Nothing is up.')).toBeVisible()
  await page.getByRole('button', { name: 'More of this channel' }).click()
  await page.getByRole('menuitem', { name: 'Remove the channel …' }).click()
  await expect(page.getByRole('link', { name: 'Quay, screen 2' })).toBeHidden()
  expect(wrong.filter((line) => !line.includes('409'))).toEqual([])
})

test('the mixer shows output pages over footage, and cuts', async ({ page }) => {
  await openAir(page, 'lower-third')
  await row(page, 'Io Marrec').click()
  await expect(row(page, 'Io Marrec')).toContainText('next')
  await page.keyboard.press('Enter')
  await expect(strip(page)).toContainText('holds')
  // A double press takes one title; Enter on a button that was reached by keys is that button's.
  await page.getByRole('button', { name: /^Take Enter/ }).dblclick()
  await expect(row(page, 'Ngọc Ánh Đặng')).toContainText('up')
  await expect(row(page, 'Maren Oduya-Castellví')).toContainText('next')
  await page.keyboard.press('Tab')
  await expect(page.getByRole('button', { name: /^Out O/ })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing is up.')).toBeVisible()
  await expect(row(page, 'Maren Oduya-Castellví')).toContainText('next')
  await page.getByRole('button', { name: /^Take Enter/ }).click()
  await expect(strip(page)).toContainText('holds')
  await page.getByRole('button', { name: 'More of this channel' }).click()
  await page.getByRole('menuitem', { name: 'Mixer to try it with' }).click()
  const programme = page.getByRole('region', { name: 'Programme', exact: true })
  const frame = programme.frameLocator('iframe[title="Programme: Lower third"]')
  await expect(frame.locator('canvas')).toBeAttached()
  await expect
    .poll(async () => Number(await frame.locator('canvas').getAttribute('data-drawn')))
    .toBeGreaterThan(10_000)
  await page.getByRole('button', { name: 'Cut', exact: true }).click()
  await expect(page.getByRole('button', { name: 'River mouth' })).toHaveAttribute('aria-pressed', 'true')
  await page.goBack()
  await page.getByRole('button', { name: 'Take everything out' }).click()
  await expect(page.getByText('Nothing is up.')).toBeVisible()
})

test('how a title changes while it is up is tried in Draft with two proofs, and rendered from one row to another', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page, 'speaker'))
  await page.getByRole('button', { name: 'While up …' }).click()
  const dialog = page.getByRole('dialog', { name: 'While it is up' })
  const says = dialog.getByRole('status')
  await dialog.getByLabel('Proof before').selectOption({ label: 'shortest' })
  await dialog.getByLabel('Proof after').selectOption({ label: 'longest' })
  await expect(says).toHaveText(/^\w+ has the longest way: \d+ px in 12 frames\. All of it has arrived after 12\.$/)
  const picture = dialog.getByRole('img', { name: 'The title, changing' })
  const before = await picture.screenshot()
  await dialog.getByRole('slider', { name: 'Frame' }).fill('46')
  await expect.poll(async () => (await picture.screenshot()).equals(before)).toBe(false)
  await dialog.getByLabel('By').first().selectOption({ label: 'a speed, the longest way sets the time' })
  await dialog.getByLabel('px a second').fill('400')
  await page.keyboard.press('Enter')
  await expect(says).toHaveText(/^Plate has the longest way: \d+ px in [2-9]\d frames/)
  await dialog.getByLabel('New ones from').fill('20')
  await page.keyboard.press('Enter')
  await expect(dialog.getByText('there are no words at all')).toBeVisible()
  await dialog.getByRole('button', { name: 'Done' }).click()
  for (let i = 0; i < 3; i++) await page.keyboard.press('ControlOrMeta+z')
  await page.getByRole('button', { name: 'While up …' }).click()
  await expect(dialog.getByLabel('Frames', { exact: true })).toHaveValue('12')
  await dialog.getByRole('button', { name: 'Done' }).click()

  await page.goto('/t/speaker/fill/1')
  await page.getByRole('button', { name: /^Render \d+ rows$/ }).click()
  await page.getByRole('radio', { name: 'Animated PNG' }).click()
  await page.getByLabel('Which').selectOption({ label: 'Some of them' })
  await page.getByLabel('Rows to render').fill('1')
  await page.getByLabel('It changes').selectOption({ label: 'into row 3: Ngọc Ánh Đặng · Oyster grower' })
  await page.getByLabel('Frame at which it changes').fill('40')
  await page.getByRole('button', { name: 'Render 1 row' }).click()
  await expect(page.getByText(/^1 of 1: 1 done/)).toBeVisible({ timeout: 60_000 })
  expect(wrong).toEqual([])
})
