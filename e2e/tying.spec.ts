import { readFileSync } from 'node:fs'
import { complaints, proofSays, saved } from './pages.ts'
import { expect, type Page, test } from './test.ts'

/** A person at work, whose actions are counted: a click, a drag, a run of typed text, a shortcut. */
class Counted {
  actions = 0
  constructor(readonly page: Page) {}
  async act(act: () => Promise<unknown>) {
    this.actions++
    await act()
  }
  press = (key: string) => this.act(() => this.page.keyboard.press(key))
  type = (text: string) => this.act(() => this.page.keyboard.type(text))
  click = (x: number, y: number) => this.act(() => this.page.mouse.click(x, y))
  drag = (from: [number, number], to: [number, number]) =>
    this.act(async () => {
      await this.page.mouse.move(...from)
      await this.page.mouse.down()
      await this.page.mouse.move(...to, { steps: 5 })
      await this.page.mouse.up()
    })
  button = (name: string) => this.act(() => this.page.getByRole('button', { name, exact: true }).first().click())
}

async function onFrame(page: Page) {
  const frame = (await page.getByTestId('frame').boundingBox())!
  return (x: number, y: number): [number, number] => [
    frame.x + (x * frame.width) / 1920,
    frame.y + (y * frame.height) / 1080,
  ]
}
const read = (page: Page) => page.getByRole('region', { name: 'Tie as drawn' })

const headings = [...readFileSync('docs/how-to/first-template.md', 'utf8').matchAll(/^## (\d+\. .+)$/gm)].map(
  (match) => match[1]!,
)

test('docs/how-to/first-template.md: a lower third by somebody who has never seen Hoja, in twenty actions', async ({
  page,
}) => {
  const wrong = complaints(page)
  const hand = new Counted(page)
  const walked: string[] = []
  const step = async (heading: string, walk: () => Promise<void>) => {
    walked.push(heading)
    await test.step(heading, walk)
  }
  await step('1. Start a template', async () => {
    await page.goto('/')
    await hand.button('New template')
    await hand.type('First of all')
    await hand.press('Enter')
    await expect(page.getByText('Nothing is drawn yet')).toBeVisible()
  })
  const at = await onFrame(page)
  await step('2. Draw the plate', async () => {
    await hand.press('b')
    await hand.drag(at(96, 800), at(560, 1000))
  })
  await step('3. Write on it', async () => {
    await hand.press('t')
    await hand.click(...at(140, 860))
    await hand.type('Name')
    await hand.press('Escape')
    await hand.press('t')
    await hand.click(...at(140, 930))
    await hand.type('Role')
    await hand.press('Escape')
  })
  await step('4. Tie it as drawn', async () => {
    await hand.press('y')
    await expect(read(page).getByText(/^Box 1 stands around Text 1 and Text 2/)).toBeVisible()
    await expect(read(page).getByText(/^Text 2 stands under Text 1/)).toBeVisible()
    await hand.press('Enter')
  })
  await step('5. Let it arrive', async () => {
    await hand.press('Control+a')
    await hand.press('Alt+4')
    await hand.button('Rise: rises a little while it fades in')
  })
  await step('6. Look at the proofs', () => proofSays(page, 'longest', /look: long to read/))
  await step('7. Publish it', async () => {
    await hand.button('Publish version 1')
    await hand.press('Enter')
    await expect(page.getByRole('button', { name: 'Version 1 is published' })).toBeVisible()
  })
  expect(walked).toEqual(headings)
  test.info().annotations.push({ type: 'actions', description: String(hand.actions) })
  expect(hand.actions).toBeLessThanOrEqual(20)

  // It is what was asked for: a plate that follows two fields, in and out, however long the name.
  const id = new URL(page.url()).pathname.split('/')[2]!
  const { versions } = await (await page.request.get(`/api/templates/${id}`)).json()
  const { content } = await (await page.request.get(`/api/versions/${versions[0].id}`)).json()
  const { fields, parts } = content
  expect(fields.map((field: { name: string }) => field.name)).toEqual(['Name', 'Role'])
  const box = parts.find((part: { kind: string }) => part.kind === 'box')
  expect(box.x.ties[1]).toMatchObject({ edge: 'end', at: 'end', to: { parts: ['text1', 'text2'] } })
  expect(Object.keys(box.motion.tracks).sort()).toEqual(['fade', 'shiftY'])
  expect(wrong).toEqual([])
})

test('a sentence can be left out, another reading taken, and all of it left or undone; a proof shows the difference', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New template' }).click()
  await page.keyboard.type('Sentences')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing is drawn yet')).toBeVisible()
  const at = await onFrame(page)
  const hand = new Counted(page)
  await hand.press('t')
  await hand.click(...at(140, 860))
  await hand.type('Maren Oduya')
  await hand.press('Escape')
  await hand.press('b')
  await hand.drag(at(96, 780), at(460, 940))
  // What was drawn just now is offered to hold to what stands there, in one line.
  const offer = page.getByRole('status').filter({ hasText: 'Box 1' })
  await expect(offer).toContainText('Box 1')
  await page.getByRole('button', { name: 'Not now' }).click()
  await expect(offer).toHaveCount(0)
  await page.getByRole('button', { name: 'Tie as drawn' }).click()
  const lines = read(page).getByRole('listitem')
  const box = lines.filter({ hasText: 'Box 1' })
  await box.hover()
  await expect(page.getByRole('img', { name: 'longest, as tied' })).toBeVisible()
  await expect(page.getByRole('img', { name: 'longest, as it is' })).toBeVisible()
  await box.getByRole('button', { name: /^Other readings/ }).click()
  await page.getByRole('menuitem').last().click()
  await read(page)
    .getByRole('checkbox', { name: /is a field/ })
    .click()
  await page.keyboard.press('Escape')
  await expect(read(page)).toHaveCount(0)
  await expect(page.getByText('0 exposed')).toBeVisible()
  await page.keyboard.press('y')
  await read(page)
    .getByRole('checkbox', { name: /is a field/ })
    .click()
  await page.keyboard.press('Enter')
  await expect(read(page)).toHaveCount(0)
  await expect(page.getByText('0 exposed')).toBeVisible()
  // What is tied is not offered again, and one undo takes all of it back.
  await page.keyboard.press('y')
  await expect(lines).toHaveCount(1)
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await page.keyboard.press('y')
  await expect(lines).not.toHaveCount(1)
})

test('a part is dragged from the list onto an edge and holds to it; the end of its dimension line is dragged to another', async ({
  page,
}) => {
  const wrong = complaints(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'New template' }).click()
  await page.keyboard.type('Dragged ties')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing is drawn yet')).toBeVisible()
  const at = await onFrame(page)
  const hand = new Counted(page)
  await page.keyboard.press('b')
  await hand.drag(at(400, 300), at(900, 500))
  await page.keyboard.press('b')
  await hand.drag(at(450, 620), at(700, 720))
  const row = page
    .getByRole('listitem')
    .filter({ hasText: /^\d+Box 2box/ })
    .getByRole('button')
    .first()
  const from = (await row.boundingBox())!
  const stored = async () => {
    await saved(page)
    const [, id] = /\/t\/([^/]+)\//.exec(page.url())!
    const { template } = await (await page.request.get(`/api/templates/${id}`)).json()
    return { ties: template.parts[1].y.ties, names: template.parts.map((part: { name: string }) => part.name) }
  }
  const carry = async (to: [number, number], end: () => Promise<void>) => {
    await page.mouse.move(from.x + 30, from.y + 10)
    await page.mouse.down()
    await page.mouse.move(from.x + 60, from.y + 20, { steps: 3 })
    await page.mouse.move(...to, { steps: 6 })
    await expect(page.getByText("Box 2's top holds to the bottom of Box 1, 120 px apart")).toBeVisible()
    await end()
  }
  // Escape lets it go where it was; so does a place at which there is no edge.
  await carry(at(600, 500), () => page.keyboard.press('Escape'))
  await page.mouse.up()
  expect((await stored()).ties).toEqual([])
  await carry(at(600, 500), () => page.mouse.up())
  await expect(page.getByText("Box 2's top holds")).toBeHidden()
  const [first, ...others] = (await stored()).ties
  expect(others).toEqual([])
  expect(first).toMatchObject({ edge: 'start', at: 'end', gap: 120 })
  expect((await stored()).names).toEqual(['Box 1', 'Box 2'])

  // What it holds to is the far end of its dimension line.
  const end = page.getByRole('button', { name: 'Tie the top of Box 2 to another edge' })
  const grip = (await end.boundingBox())!
  await hand.drag([grip.x + 4, grip.y + 4], at(600, 300))
  await expect.poll(async () => (await stored()).ties[0]).toMatchObject({ edge: 'start', at: 'start', gap: 320 })
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect.poll(async () => (await stored()).ties[0]).toMatchObject({ at: 'end', gap: 120 })
  expect(wrong).toEqual([])
})
