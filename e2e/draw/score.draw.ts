import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// Two crews and how they stand, in the colour of whoever pays for it.
test('score', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(
    hand,
    'Score',
    { note: 'Two crews and how they stand, with a band in the colour of the sponsor. Top left.' },
    [
      ['Sponsor', '#e3a24a'],
      ['On the sponsor', '#0b2329'],
    ],
  )
  const sponsor = await hand.openColour('Sponsor')
  await sponsor.getByText('Editors choose it').click()
  await page.keyboard.press('Escape')
  const on = await hand.openColour('On the sponsor')
  await on.getByLabel('Follows').selectOption('readable on')
  await on.getByLabel('On', { exact: true }).selectOption({ label: 'Sponsor' })
  await on.getByLabel('One', { exact: true }).selectOption({ label: 'Deep water' })
  await on.getByLabel('Or other').selectOption({ label: 'Shell' })
  await page.keyboard.press('Escape')
  await houseFonts(hand)
  await hand.spans({ in: 18, hold: 150, out: 15 })

  await hand.add('box', 'Board')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)
  await hand.add('box', 'Band')
  await hand.fill('Sponsor')
  await hand.add('box', 'Line')
  await hand.fill('Low tide')
  await hand.add('box', 'Edge')
  await hand.fill('Lamp amber')
  await hand.add('text', 'Event')
  await hand.words('Skiff race, heat two')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 32, Tracking: 20, Colour: 'On the sponsor' })
  await hand.expose()
  for (const [name, words] of [
    ['Crew one', 'Puerto Brisal'],
    ['Crew two', 'Upper Vado'],
  ] as const) {
    await hand.add('text', name)
    await hand.words(words)
    await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 56, Colour: 'Shell' })
    await hand.expose()
  }
  for (const [name, words] of [
    ['Score one', '3'],
    ['Score two', '1'],
  ] as const) {
    await hand.add('text', name)
    await hand.words(words)
    await hand.style({
      Font: 'Barlow Condensed SemiBold',
      Size: 56,
      Align: 'end',
      Colour: 'Lamp amber',
      'tabular figures': true,
    })
    await hand.expose()
  }

  await hand.choose('Board')
  await hand.tie('Board', 'left', 'title-safe', 'left')
  await hand.tie('Board', 'top', 'title-safe', 'top')
  await hand.size('Board', 'x', 560)
  await hand.size('Board', 'y', 216)
  await hand.recipe('Band', 'inside', ['Board'], { room: [0, 0, 0, 0], on: 'across' })
  await hand.tie('Band', 'top', 'Board', 'top')
  await hand.size('Band', 'y', 52)
  await hand.recipe('Edge', 'inside', ['Board'], { room: [0, 0, 52, 0], on: 'down' })
  await hand.tie('Edge', 'left', 'Board', 'left')
  await hand.size('Edge', 'x', 14)
  await hand.choose('Event')
  await hand.tie('Event', 'left', 'Board', 'left', 38)
  await hand.tieMiddle('Event', 'y', 'Band')
  await hand.roomTo('Board', 'right', -28)
  await hand.fit([
    ['condense', 80],
    ['shrink', 70],
  ])
  for (const [crew, score, below] of [
    ['Crew one', 'Score one', -40],
    ['Crew two', 'Score two', 40],
  ] as const) {
    await hand.choose(score)
    await hand.tie(score, 'right', 'Board', 'right', -28)
    await hand.tieMiddle(score, 'y', 'Edge', below)
    await hand.choose(crew)
    await hand.tie(crew, 'left', 'Board', 'left', 38)
    await hand.tieMiddle(crew, 'y', 'Edge', below)
    await hand.roomTo('Board', 'right', -140)
    await hand.fit([
      ['condense', 88],
      ['shrink', 60],
    ])
  }
  await hand.choose('Line')
  await hand.tie('Line', 'left', 'Crew one', 'left')
  await hand.tie('Line', 'right', 'Board', 'right', -28)
  await hand.tieMiddle('Line', 'y', 'Edge')
  await hand.size('Line', 'y', 2)
  // Both names at the size of the longer one.
  await hand.choose('Crew one', 'Crew two')
  await hand.group('Crews')
  await hand.style({ 'Texts at one size': true })

  await hand.choose('Band')
  await hand.move('Unroll')
  await hand.keys('Grow', [
    [0, 0, 'Moor'],
    [10, 1],
  ])
  await hand.choose('Board')
  await hand.move('Waterline')
  await hand.choose('Edge')
  await hand.move('Stand up')
  await hand.choose('Line')
  await hand.move('Unroll')
  await hand.choose('Event')
  await hand.move('Surface')
  for (const crew of ['Crew one', 'Crew two', 'Score one', 'Score two']) {
    await hand.choose(crew)
    await hand.move('Rise')
  }
  await hand.shape('9:16')
  // Upright it stands in the middle, under what the phone puts over its upper edge.
  await hand.choose('Board')
  await hand.tie('Board', 'left', 'title-safe', 'left')
  await hand.tie('Board', 'right', 'title-safe', 'right')
  await hand.tie('Board', 'top', 'title-safe', 'top', 120)
  await hand.handoff()
  await hand.explain('Event', 'Which race, which heat.', 40)
  await hand.oneLine()
  await hand.kind('Score one', 'number')
  await hand.kind('Score two', 'number')
  for (const crew of ['Crew one', 'Crew two']) {
    await hand.explain(crew, 'As painted on the boat.', 30)
    await hand.oneLine()
  }
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'score', ['numbers', 'race'])
})
