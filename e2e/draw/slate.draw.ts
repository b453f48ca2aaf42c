import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// What follows, said before it: which programme, of which day, and how long it runs.
test('slate', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Slate', {
    note: 'Before a programme: what it is, the day and the time at which it was made, and how long it runs.',
    language: 'en',
  })
  await houseFonts(hand)
  await hand.spans({ in: 12, hold: 101, out: 12 })

  await hand.add('box', 'Card')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.add('box', 'Edge')
  await hand.fill('Lamp amber')
  await hand.add('text', 'Programme')
  await hand.words('Estuary Week, the third evening')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 112, Leading: 100, Colour: 'Shell', Lines: 'balanced' })
  await hand.expose()
  await hand.add('box', 'Rule')
  await hand.fill('Low tide')
  const lines: [name: string, words: string][] = [
    ['Date', '26 November 2026'],
    ['Time', '18:30'],
    ['Runs', '0:05'],
    ['Number', '1'],
  ]
  for (const [name, words] of lines) {
    await hand.add('text', `${name} says`)
    await hand.words(name)
    await hand.style({ Font: 'Barlow Condensed Medium', Size: 46, Tracking: 10, Colour: 'Low tide' })
    await hand.add('text', name)
    await hand.words(words)
    await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 64, Colour: 'Shell' })
    await hand.expose()
  }

  await hand.choose('Card')
  for (const side of ['left', 'right', 'top', 'bottom'] as const) await hand.tie('Card', side, 'the frame', side)
  await hand.choose('Edge')
  await hand.tie('Edge', 'left', 'title-safe', 'left')
  await hand.size('Edge', 'x', 12)
  await hand.choose('Programme')
  await hand.tie('Programme', 'left', 'title-safe', 'left', 56)
  await hand.tie('Programme', 'bottom', 'Rule', 'top', -40)
  await hand.roomTo('title-safe', 'right', 0)
  await hand.fit([
    ['wrap', 3],
    ['shrink', 50],
  ])
  await hand.choose('Rule')
  await hand.tie('Rule', 'left', 'title-safe', 'left', 56)
  await hand.tie('Rule', 'right', 'title-safe', 'right')
  await hand.tie('Rule', 'top', 'the frame', 'middle', 20)
  await hand.size('Rule', 'y', 4)
  await hand.recipe('Edge', 'around', ['Programme', 'Number'], { room: [0, 0, 0, 0], on: 'down' })
  let above: [name: string, at: string, gap: number] = ['Rule', 'bottom', 34]
  for (const [name] of lines) {
    await hand.choose(name)
    await hand.tie(name, 'left', 'title-safe', 'left', 316)
    await hand.tie(name, 'top', ...above)
    await hand.choose(`${name} says`)
    await hand.tie(`${name} says`, 'left', 'title-safe', 'left', 56)
    await hand.tie(`${name} says`, 'bottom', name, 'bottom', -4)
    above = [name, 'bottom', 2]
  }

  await hand.choose('Card')
  await hand.move('Surface')
  await hand.keys('Fade', [
    [0, 0],
    [6, 1],
  ])
  await hand.choose('Edge')
  await hand.move('Stand up')
  await hand.choose('Rule')
  await hand.move('Unroll')
  await hand.choose('Programme')
  await hand.move('Line by line')
  for (const [i, [name]] of lines.entries())
    for (const part of [`${name} says`, name]) {
      await hand.choose(part)
      await hand.move('Surface')
      await hand.keys('Fade', [
        [3 + i, 0],
        [9 + i, 1],
      ])
    }

  await hand.handoff()
  await hand.explain('Programme', 'Which programme, and which part of it.', 70)
  await hand.kind('Date', 'date and time')
  await page.getByLabel('Reads').fill('EEEE d MMMM yyyy')
  await page.getByLabel('Reads').press('Enter')
  await page.getByLabel('Left empty').selectOption({ label: 'the moment of rendering' })
  await hand.kind('Time', 'date and time')
  await page.getByLabel('Reads').fill('HH:mm')
  await page.getByLabel('Reads').press('Enter')
  await page.getByLabel('Left empty').selectOption({ label: 'the moment of rendering' })
  await hand.kind('Runs', 'date and time')
  await page.getByLabel('Reads').fill('m:ss')
  await page.getByLabel('Reads').press('Enter')
  await page.getByLabel('Left empty').selectOption({ label: "the title's length" })
  await hand.kind('Number', 'number')
  await page.getByLabel('Left empty').selectOption({ label: 'the number of its row' })
  await hand.draft()
  await hand.shape('9:16')
  await hand.choose('Programme')
  await hand.style({ Size: 104 })
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'slate', ['programme'])
})
