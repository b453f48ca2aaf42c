import type { Part } from '@hoja/core/template'
import { choose, complaints, openDraft, ownTemplate, stored } from './pages.ts'
import { expect, type Page, test } from './test.ts'

const mount = async (page: Page): Promise<Part> => (await stored(page)).parts.find(({ name }) => name === 'Mount')!

/** Drags a handle of the frame by so many px of the screen. */
async function pull(page: Page, name: string, dx: number, dy: number, held?: string): Promise<void> {
  const box = (await page.getByRole('button', { name, exact: true }).boundingBox())!
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  if (held) await page.keyboard.down(held)
  await page.mouse.move(x + dx / 2, y + dy / 2, { steps: 3 })
  await page.mouse.move(x + dx, y + dy, { steps: 3 })
  await page.mouse.up()
  if (held) await page.keyboard.up(held)
}

test('a part is turned, scaled and given its anchor by handles: a key while it comes, itself at rest', async ({
  page,
}) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Mount')
  await expect(page.getByRole('button', { name: 'Turn: Mount' })).toBeHidden()
  await page.getByRole('tab', { name: 'Motion' }).click()
  // At rest: the part itself. Shift goes in steps.
  await pull(page, 'Turn: Mount', 40, 30, 'Shift')
  const { rotation } = (await mount(page)).style as { rotation: number }
  expect(rotation).toBeGreaterThan(0)
  expect(rotation % 15).toBe(0)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  expect((await mount(page)).style).not.toHaveProperty('rotation')
  await pull(page, 'Scale: Mount', 30, -30)
  expect(((await mount(page)).style as { scale: number }).scale).toBeGreaterThan(1.3)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()

  // While it comes: keys of its movement, which ends at rest.
  await choose(page, 'Mount')
  await page.keyboard.press('Home')
  await pull(page, 'Turn: Mount', 40, 30)
  const { turn } = (await mount(page)).motion.tracks
  expect(turn?.keys.map(({ span, at }) => [span, at])).toEqual([
    ['in', 0],
    ['in', 15],
  ])
  expect(turn?.keys[0]?.value).not.toBe(0)
  expect(turn?.keys[1]?.value).toBe(0)
  // Escape puts it back.
  const handle = (await page.getByRole('button', { name: 'Turn: Mount' }).boundingBox())!
  await page.mouse.move(handle.x + 10, handle.y + 10)
  await page.mouse.down()
  await page.mouse.move(handle.x + 60, handle.y + 60, { steps: 3 })
  await page.keyboard.press('Escape')
  await page.mouse.up()
  expect((await mount(page)).motion.tracks.turn).toEqual(turn)

  // The anchor is drawn to the part's corner when it is dropped near it.
  await page.keyboard.press('End')
  const was = (await mount(page)).motion.anchor
  expect(was).toEqual({ x: 0.5, y: 0.5 })
  const middle = (await page.getByRole('button', { name: 'What it turns and grows about: Mount' }).boundingBox())!
  const grip = (await page.getByRole('button', { name: 'Resize Mount at its upper left' }).boundingBox())!
  const by = [grip.x + 5 - middle.x - middle.width / 2, grip.y + 5 - middle.y - middle.height / 2] as const
  await pull(page, 'What it turns and grows about: Mount', by[0] + 3, by[1] + 3)
  await expect.poll(async () => (await mount(page)).motion.anchor).toEqual({ x: 0, y: 0 })
  expect(wrong).toEqual([])
})

test('time is looked at nearer, and a channel is a graph in which keys are dragged to values', async ({ page }) => {
  const wrong = complaints(page)
  await openDraft(page, await ownTemplate(page))
  await choose(page, 'Mount')
  const time = page.getByRole('region', { name: 'Time' })
  await time.getByRole('button', { name: 'Open the channels of Mount' }).click()
  await time.getByRole('button', { name: 'Graph of Mount, Scale' }).click()
  const graph = time.getByRole('group', { name: 'Graph of Mount, Scale' })
  const key = graph.getByRole('button', { name: /^Mount, Scale at in 5:/ })
  const scale = async () => (await mount(page)).motion.tracks.scale!.keys.filter(({ span }) => span === 'in')
  const before = await scale()
  expect(before[0]).toMatchObject({ at: 5, value: 0 })
  // Up is more, and Shift leaves the time alone.
  await graph.scrollIntoViewIfNeeded()
  const box = (await key.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.keyboard.down('Shift')
  await page.mouse.move(box.x + 20, box.y - 28, { steps: 4 })
  await page.mouse.up()
  await page.keyboard.up('Shift')
  const [dragged] = await scale()
  expect(dragged!.at).toBe(5)
  expect(dragged!.value).toBeGreaterThan(0.3)
  expect(dragged!.value).toBeLessThan(0.7)
  // By keys: a step up, a frame on.
  await page.keyboard.press('Tab')
  await graph.getByRole('button', { name: /^Mount, Scale at in 5:/ }).focus()
  await page.keyboard.press('ArrowUp')
  await expect.poll(async () => (await scale())[0]!.value).toBeCloseTo(dragged!.value + 0.05, 6)
  await page.keyboard.press('ArrowRight')
  await expect.poll(async () => (await scale())[0]!.at).toBe(6)

  // Nearer: the same time stays under the pointer, and more of it is seen.
  const lane = time.getByRole('group', { name: 'Keys of Plate', exact: true })
  const width = async () => (await lane.boundingBox())!.width
  const fits = await width()
  await page.getByRole('application').click({ position: { x: 10, y: 10 } })
  await page.keyboard.press('n')
  await expect.poll(width).toBeGreaterThan(fits * 1.4)
  const plate = time.getByRole('button', { name: /^Keys of Plate at in 2/ })
  await plate.scrollIntoViewIfNeeded()
  const at = (await plate.boundingBox())!
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2)
  await page.keyboard.down('Control')
  await page.mouse.wheel(0, -200)
  await page.keyboard.up('Control')
  await expect.poll(width).toBeGreaterThan(fits * 2)
  const then = (await plate.boundingBox())!
  expect(Math.abs(then.x - at.x)).toBeLessThan(3)
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+N')
  await expect.poll(width).toBe(fits)
  expect(wrong).toEqual([])
})
