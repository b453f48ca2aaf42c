import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// A quote that is as large as its panel allows, whatever its length.
test('statement', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Statement', {
    note: 'What somebody said, as large as its panel allows. Left, the lower half; upright across.',
  })
  await houseFonts(hand)
  await hand.spans({ in: 20, hold: 150, out: 15 })

  await hand.add('box', 'Panel')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)
  await hand.add('box', 'Edge')
  await hand.fill('Lamp amber')
  await hand.add('box', 'Rule')
  await hand.fill('Low tide')
  await hand.add('text', 'Statement')
  await hand.words('We count every bird of the marsh, every year, whatever the weather')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 78, Leading: 102, Colour: 'Shell', Lines: 'balanced' })
  await hand.expose()
  await hand.add('text', 'Name')
  await hand.words('Maren Oduya-Castellví')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 43, Colour: 'Lamp amber' })
  await hand.expose()
  await hand.add('text', 'Role')
  await hand.words('Salt-marsh ecologist')
  await hand.style({ Font: 'Barlow Condensed Medium', Size: 43, Colour: 'Shell' })
  await hand.expose()

  await hand.choose('Panel')
  await hand.tie('Panel', 'left', 'title-safe', 'left')
  await hand.tie('Panel', 'bottom', 'title-safe', 'bottom')
  await hand.size('Panel', 'x', 1180)
  await hand.size('Panel', 'y', 470)
  await hand.recipe('Edge', 'inside', ['Panel'], { room: [0, 0, 0, 0], on: 'down' })
  await hand.tie('Edge', 'left', 'Panel', 'left')
  await hand.size('Edge', 'x', 14)
  await hand.recipe('Statement', 'inside', ['Panel'], { room: [64, 56, 40, 132] })
  await hand.fillBox(40, 300, 8)
  await hand.choose('Name')
  await hand.tie('Name', 'left', 'Statement', 'left')
  await hand.tie('Name', 'bottom', 'Panel', 'bottom', -34)
  await hand.choose('Role')
  await hand.tie('Role', 'left', 'Name', 'right', 18)
  await hand.tie('Role', 'bottom', 'Panel', 'bottom', -34)
  await hand.roomTo('Panel', 'right', -48)
  await hand.fit([
    ['tighten', -12],
    ['condense', 85],
    ['shrink', 70],
  ])
  await hand.choose('Rule')
  await hand.tie('Rule', 'left', 'Statement', 'left')
  await hand.tie('Rule', 'right', 'Statement', 'right')
  await hand.tie('Rule', 'bottom', 'Panel', 'bottom', -100)
  await hand.size('Rule', 'y', 3)

  await hand.choose('Panel')
  await hand.move('Unroll')
  await hand.keys('Grow', [
    [2, 0, 'Moor'],
    [12, 1],
  ])
  await hand.choose('Edge')
  await hand.move('Stand up')
  await hand.keys('Grow', [
    [0, 0, 'Moor'],
    [8, 1],
  ])
  await hand.choose('Rule')
  await hand.move('Unroll')
  await hand.keys('Grow', [
    [8, 0, 'Moor'],
    [20, 1],
  ])
  await hand.choose('Statement')
  await hand.move('Line by line')
  await hand.choose('Name')
  await hand.move('Rise')
  await hand.choose('Role')
  await hand.move('Surface')

  // Upright: across the safe area, higher, and further up, out of the way of what stands below.
  await hand.shape('9:16')
  await hand.choose('Panel')
  await hand.tie('Panel', 'right', 'title-safe', 'right')
  await hand.tie('Panel', 'bottom', 'title-safe', 'bottom', -260)
  await hand.size('Panel', 'y', 760)
  // Who and as what below each other: side by side they would not fit.
  await hand.choose('Role')
  await hand.tie('Role', 'left', 'Statement', 'left')
  await hand.choose('Name')
  await hand.tie('Name', 'bottom', 'Panel', 'bottom', -86)
  await hand.choose('Rule')
  await hand.tie('Rule', 'bottom', 'Panel', 'bottom', -144)
  await hand.choose('Statement')
  await hand.tie('Statement', 'bottom', 'Panel', 'bottom', -198)
  await hand.handoff()
  await hand.explain('Statement', 'What was said, without quotation marks.', 180)
  for (const [field, note] of [
    ['Name', 'Who said it.'],
    ['Role', 'As what.'],
  ] as const) {
    await hand.explain(field, note, 40)
    await hand.oneLine()
  }
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'statement', ['quotes'])
})
