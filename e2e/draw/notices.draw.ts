import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// Short news that run along the foot of the frame, as long as they take.
test('notices', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Notices', {
    note: 'Notices that run along the foot of the frame, each once, for as long as they take.',
  })
  await houseFonts(hand)
  await hand.spans({ in: 16, hold: 250, out: 14 })

  await hand.add('box', 'Band')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.add('box', 'Line')
  await hand.fill('Low tide')
  await hand.add('text', 'Notice')
  await hand.words('The causeway to the lamp house closes at 17:40')
  await hand.style({ Font: 'Barlow Condensed Medium', Size: 46, Colour: 'Shell' })
  await hand.expose()
  await hand.add('ellipse', 'Dot')
  await hand.fill('Lamp amber')
  await hand.add('box', 'Label')
  await hand.fill('Lamp amber')
  await hand.add('text', 'Heading')
  await hand.words('Notices')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 42, Tracking: 20, Colour: 'Deep water' })
  await hand.expose()

  await hand.choose('Band')
  await hand.tie('Band', 'left', 'the frame', 'left')
  await hand.tie('Band', 'right', 'the frame', 'right')
  await hand.tie('Band', 'bottom', 'title-safe', 'bottom')
  await hand.size('Band', 'y', 84)
  await hand.choose('Line')
  await hand.tie('Line', 'left', 'the frame', 'left')
  await hand.tie('Line', 'right', 'the frame', 'right')
  await hand.tie('Line', 'bottom', 'Band', 'top')
  await hand.size('Line', 'y', 4)
  await hand.choose('Heading')
  await hand.tie('Heading', 'left', 'title-safe', 'left')
  await hand.tieMiddle('Heading', 'y', 'Band')
  await hand.choose('Label')
  await hand.tie('Label', 'left', 'the frame', 'left')
  await hand.tie('Label', 'right', 'Heading', 'right', 30, { gone: 'go too' })
  await hand.recipe('Label', 'inside', ['Band'], { room: [0, 0, 0, 0], on: 'down' })
  await hand.choose('Notice')
  await hand.tieMiddle('Notice', 'y', 'Band')
  await hand.choose('Dot')
  await hand.size('Dot', 'x', 12)
  await hand.size('Dot', 'y', 12)
  await hand.tie('Dot', 'left', 'Notice', 'right', 34, { gone: 'go too' })
  await hand.tieMiddle('Dot', 'y', 'Band')
  await hand.choose('Notice', 'Dot')
  await hand.group('Run')
  await hand.tie('Run', 'left', 'Label', 'right')
  await hand.tie('Run', 'right', 'the frame', 'right')
  await hand.choose('Notice')
  await hand.tie('Notice', 'left', 'its group', 'left')

  await hand.choose('Band')
  await hand.move('Surface')
  await hand.keys('Fade', [
    [0, 0],
    [8, 1],
  ])
  await hand.choose('Line')
  await hand.move('Unroll')
  await hand.keys('Grow', [
    [4, 0, 'Moor'],
    [16, 1],
  ])
  await hand.choose('Label')
  await hand.move('Unroll')
  await hand.keys('Grow', [
    [2, 0, 'Moor'],
    [12, 1],
  ])
  await hand.choose('Heading')
  await hand.move('Uncover')
  await hand.keys('Reveal', [
    [6, 0, 'Moor'],
    [16, 1],
  ])

  await hand.handoff()
  await hand.list('Notice', [
    'The causeway to the lamp house closes at 17:40',
    'Boats to the eel weir every half hour from the north quay',
    'Low tide at 18:52, two metres under the mean',
  ])
  await hand.draft()
  await hand.choose('Run')
  await hand.style({ 'List entries': 'crawling', Speed: 250, 'Between entries': 34, Steps: 'steady' })

  await hand.shape('9:16')
  await hand.handoff()
  await hand.explain('Heading', 'What they are, in one word.', 14)
  await hand.oneLine()
  await page.getByLabel('May go out').check()
  await hand.explain('Notice', 'One a line, without a full stop.')
  await hand.number(page.getByLabel('Characters each'), 120)
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'notices', ['programme'])
})
