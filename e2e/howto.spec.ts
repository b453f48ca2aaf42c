import { readFileSync } from 'node:fs'
import { Hand } from './hand.ts'
import { complaints, edgeValue } from './pages.ts'
import { expect, test } from './test.ts'

const page = readFileSync('docs/how-to/first-template-by-numbers.md', 'utf8')
const headings = [...page.matchAll(/^## (\d+\. .+)$/gm)].map((match) => match[1]!)
const walked: string[] = []

test('docs/how-to/first-template-by-numbers.md, step by step: speaker from nothing', async ({ page }) => {
  test.setTimeout(300_000)
  const wrong = complaints(page)
  const hand = new Hand(page)
  const step = async (heading: string, walk: () => Promise<void>) => {
    walked.push(heading)
    await test.step(heading, walk)
  }

  await step('1. Start a template', () => hand.startTemplate('Speaker from nothing'))

  await step('2. Name the colours', () =>
    hand.palette([
      ['Night tide', '#12343b'],
      ['Deep water', '#0b2329'],
      ['Shell', '#f4ead5'],
      ['Lamp amber', '#e3a24a'],
      ['Low tide', '#58a39b'],
    ]),
  )

  await step('3. Draw the boxes', async () => {
    await hand.add('box', 'Plate')
    await hand.gradient(90, ['Night tide', 'Deep water'])
    await hand.shadow(0, 10, 28)
    await hand.add('box', 'Edge')
    await hand.fill('Lamp amber')
    await hand.add('box', 'Mount')
    await hand.fill('Shell')
    await hand.corners(26)
  })

  await step('4. Stand the edge and the mount on the safe area', async () => {
    await hand.choose('Edge')
    await hand.tie('Edge', 'left', 'title-safe', 'left')
    await hand.size('Edge', 'x', 10)
    await hand.choose('Mount')
    await hand.tie('Mount', 'left', 'Edge', 'right', 24)
    await hand.tie('Mount', 'bottom', 'title-safe', 'bottom', -30)
    await hand.size('Mount', 'x', 132)
    await hand.size('Mount', 'y', 132)
    expect(await edgeValue(page, 'left', 'Mount')).toBe(130)
  })

  await step('5. Write the name and the role', async () => {
    await hand.add('text', 'Name')
    await hand.words('Maren Oduya-Castellví')
    await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 78, Colour: 'Shell' })
    await hand.expose()
    await hand.add('text', 'Role')
    await hand.words('Salt-marsh ecologist, Vado Institute')
    await hand.style({ Font: 'Barlow Condensed Medium', Size: 43, Tracking: 8, Colour: 'Lamp amber' })
    await hand.expose()
    await expect(page.getByRole('img', { name: 'Proof longest' })).toBeVisible()
  })

  await step('6. Stand the words beside the mount', async () => {
    await hand.choose('Name')
    await hand.tie('Name', 'left', 'Mount', 'right', 34)
    await hand.choose('Role')
    await hand.tie('Role', 'left', 'Mount', 'right', 34)
    await hand.tie('Role', 'top', 'Name', 'bottom', -3)
    await hand.choose('Name', 'Role')
    await page.keyboard.press('g')
    await hand.rename('Words')
    await hand.recipe('Words', 'centred on', ['Mount'], { on: 'down' })
    await hand.choose('Name')
    expect(await edgeValue(page, 'left', 'Name')).toBe(296)
  })

  await step('7. Let the plate follow the words', async () => {
    await hand.recipe('Plate', 'around', ['Name', 'Role'], { room: [0, 46, 0, 0], on: 'across' })
    await hand.tie('Plate', 'left', 'Edge', 'right')
    await hand.recipe('Plate', 'around', ['Mount', 'Name', 'Role'], { room: [0, 0, 20, 20], on: 'down' })
    await hand.atLeast('Plate', 'x', 420)
    await hand.recipe('Edge', 'inside', ['Plate'], { room: [0, 0, 0, 0], on: 'down' })
    await hand.choose('Plate')
    const right = await edgeValue(page, 'right', 'Plate')
    await hand.choose('Name')
    expect(right).toBeCloseTo((await edgeValue(page, 'right', 'Name')) + 46, 0)
  })

  await step('8. Give the words room, and say what gives first', async () => {
    for (const name of ['Name', 'Role']) {
      await hand.choose(name)
      await hand.roomTo('title-safe', 'right', -54)
      await hand.fit([
        ['tighten', -12],
        ['condense', 88],
        ['shrink', 80],
      ])
    }
  })

  await step('9. Put a mark into the mount', async () => {
    await hand.carry('demo/templates/speaker/media/vado.png')
    await hand.add('picture', 'Mark')
    await hand.recipe('Mark', 'inside', ['Mount'], { room: [0, 0, 0, 0] })
    await hand.style({ Picture: 'vado.png' })
    await hand.matte('Mount')
  })

  await step('10. Let it arrive', async () => {
    await hand.spans({ in: 15, hold: 95, out: 15 })
    for (const [part, move] of [
      ['Edge', 'Stand up'],
      ['Plate', 'Unroll'],
      ['Mount', 'Bob up'],
      ['Mark', 'Surface'],
      ['Name', 'Out of the mist'],
      ['Role', 'Rise'],
    ] as const) {
      await hand.choose(part)
      await hand.move(move)
    }
    const time = page.getByRole('region', { name: 'Time' })
    const parts = ['Edge', 'Plate', 'Mount', 'Mark', 'Name', 'Role']
    await hand.choose(parts[0]!, ...parts.slice(1))
    await time.getByRole('button', { name: 'Keys', exact: true }).click()
    await page.getByRole('menuitem', { name: 'All its keys' }).click()
    await hand.number(time.getByLabel('How far apart'), 9)
    await time.getByRole('button', { name: 'Spread over 9' }).click()
    await hand.number(time.getByLabel('How far apart'), 1)
    await time.getByRole('button', { name: 'Stagger', exact: true }).click()
    await expect(time.getByRole('button', { name: 'Keys of Role at in 14' })).toBeVisible()
  })

  await step('11. Find out what breaks it', async () => {
    await page.getByRole('slider', { name: 'Length of Name, characters' }).fill('60')
    await expect(page.getByText('length of Name')).toBeVisible()
    await hand.choose('Plate')
    await hand.tab('Edges')
    const wide = await edgeValue(page, 'width', 'Plate')
    await page.getByRole('slider', { name: 'Length of Name, characters' }).fill('2')
    await expect.poll(() => edgeValue(page, 'width', 'Plate')).toBeLessThan(wide)
    await page
      .getByRole('button', { name: /longest/ })
      .first()
      .click()
    await expect(page.getByText('In the frame: longest')).toBeVisible()
  })

  await step('12. Hand it over', async () => {
    await hand.saved()
    await page.getByRole('link', { name: 'Hand-off' }).click()
    const form = page.getByRole('complementary').filter({ hasText: "The editor's form" })
    await form.getByRole('button', { name: 'Name', exact: true }).click()
    await page.getByLabel('Note').fill('First name and surname, no title.')
    await hand.number(page.getByLabel('Characters'), 40)
    await page.getByRole('button', { name: 'Expose Picture of Mark' }).click()
    await expect(form.getByText('3 fields')).toBeVisible()
    await page.getByRole('button', { name: 'Publish version 1' }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Publish', exact: true }).click()
    await expect(page.getByText('Version 1 is published.')).toBeVisible()
  })

  expect(walked).toEqual(headings)
  expect(wrong).toEqual([])
})
