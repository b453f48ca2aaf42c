import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// A two-line title uncovered by a rule that passes over it, however long it is.
test('talk', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Talk', {
    note: 'Title of a talk in two lines, uncovered by a rule. Left, upper third of the lower half.',
  })
  await houseFonts(hand)
  await hand.spans({ in: 24, hold: 101, out: 18 })

  await hand.add('box', 'Plate')
  await hand.add('text', 'Title')
  await hand.words('What the marsh remembers after a storm')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 104, Leading: 98, Colour: 'Shell', Lines: 'balanced' })
  await hand.expose()
  await hand.add('text', 'Speaker')
  await hand.words('Ioana Brezoiu, tidal geographer')
  await hand.style({ Font: 'Barlow Condensed Medium', Size: 43, Tracking: 8, Colour: 'Lamp amber' })
  await hand.expose()
  await hand.add('box', 'Rule')
  await hand.fill('Low tide')

  // Title: left on the safe area behind the rule, its foot above the speaker's line.
  await hand.choose('Speaker')
  await hand.tie('Speaker', 'left', 'title-safe', 'left', 34)
  await hand.tie('Speaker', 'bottom', 'title-safe', 'bottom', -20)
  await hand.roomTo('title-safe', 'right', 0)
  await hand.fit([
    ['tighten', -10],
    ['shrink', 75],
  ])
  await hand.choose('Title')
  await hand.tie('Title', 'left', 'title-safe', 'left', 34)
  await hand.tie('Title', 'bottom', 'Speaker', 'top', -10)
  await hand.roomTo('title-safe', 'centre', 420)
  await hand.fit([
    ['wrap', 2],
    ['tighten', -25],
    ['shrink', 60],
  ])
  // The rule is as high as both texts, and follows the edge that uncovers the title.
  await hand.recipe('Rule', 'around', ['Title', 'Speaker'], { room: [0, 0, -14, 6], on: 'down' })
  await hand.tie('Rule', 'left', 'Title', 'right', 18, { follows: 'while it moves' })
  await hand.size('Rule', 'x', 8)
  await hand.recipe('Plate', 'around', ['Title', 'Speaker'], { room: [34, 60, 26, 26] })
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)

  await hand.choose('Plate')
  await hand.move('Unroll')
  await hand.keys('Grow', [
    [0, 0, 'Moor'],
    [14, 1],
  ])
  await hand.choose('Title')
  await hand.move('Uncover')
  await hand.keys('Reveal', [
    [2, 0, 'Moor'],
    [20, 1],
  ])
  await hand.choose('Rule')
  await hand.move('Stand up')
  await hand.keys('Grow', [
    [0, 0, 'Moor'],
    [6, 1],
  ])
  await hand.choose('Speaker')
  await hand.move('Word by word')
  await hand.shape('9:16')
  await hand.handoff()
  await hand.explain('Title', 'As in the programme, without a full stop.', 80)
  await hand.explain('Speaker', 'Who speaks, and as what.', 50)
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'talk', ['titles'])
})
