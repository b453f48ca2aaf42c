import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// What comes next, one after another on one plate.
test('agenda', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Agenda', {
    note: 'What comes when, one after another on one plate, each as long as it takes to read. Left, the lower third.',
  })
  await houseFonts(hand)
  await hand.spans({ in: 20, hold: 150, out: 15 })

  await hand.add('box', 'Plate')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)
  await hand.add('box', 'Tab')
  await hand.fill('Lamp amber')
  await hand.add('text', 'Heading')
  await hand.words('Today at Estuary Week')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 34, Tracking: 20, Colour: 'Deep water' })
  await hand.expose()
  await hand.add('text', 'Time')
  await hand.words('18:30')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 62, Colour: 'Lamp amber' })
  await hand.expose()
  await hand.add('text', 'Event')
  await hand.words('Low-tide walk to the eel weir')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 62, Colour: 'Shell' })
  await hand.expose()

  await hand.choose('Time')
  await hand.tie('Time', 'left', 'title-safe', 'left', 28)
  await hand.tie('Time', 'bottom', 'title-safe', 'bottom', -26)
  await hand.choose('Event')
  await hand.tie('Event', 'left', 'Time', 'right', 28)
  await hand.tie('Event', 'bottom', 'title-safe', 'bottom', -26)
  await hand.roomTo('title-safe', 'right', -40)
  await hand.fit([
    ['tighten', -12],
    ['condense', 85],
    ['shrink', 60],
  ])
  await hand.choose('Time', 'Event')
  await hand.group('Entry')
  await hand.recipe('Plate', 'around', ['Entry'], { room: [28, 40, 20, 18] })
  // On the plate, whatever stands on it.
  await hand.choose('Heading')
  await hand.tie('Heading', 'left', 'title-safe', 'left', 28)
  await hand.tie('Heading', 'bottom', 'Entry', 'top', -28)
  await hand.recipe('Tab', 'around', ['Heading'], { room: [28, 28, 8, 8] })

  await hand.choose('Plate')
  await hand.move('Unroll')
  await hand.keys('Grow', [
    [0, 0, 'Moor'],
    [14, 1],
  ])
  await hand.choose('Tab')
  await hand.move('Stand up')
  await hand.keys('Grow', [
    [6, 0, 'Moor'],
    [14, 1],
  ])
  await hand.choose('Heading')
  await hand.move('Surface')
  await hand.keys('Fade', [
    [12, 0],
    [18, 1],
  ])
  await hand.choose('Time')
  await hand.move('Waterline')
  await hand.keys('Shift down', [
    [8, 1, 'Moor'],
    [18, 0],
  ])
  await hand.keys('Reveal', [
    [8, 0, 'Moor'],
    [18, 1],
  ])
  await hand.choose('Event')
  await hand.move('Waterline')
  await hand.keys('Shift down', [
    [10, 1, 'Moor'],
    [20, 0],
  ])
  await hand.keys('Reveal', [
    [10, 0, 'Moor'],
    [20, 1],
  ])

  // Each entry of the two lists in its turn.
  await hand.handoff()
  await hand.list('Time', ['18:30', '19:15', '20:00', '21:40'])
  await hand.list('Event', [
    'Low-tide walk to the eel weir',
    'What the marsh remembers: Ioana Brezoiu',
    'Skiff race, heat two',
    'Lamps on the water',
  ])
  await hand.explain('Heading', 'What these are, and where.', 40)
  await hand.draft()
  await hand.choose('Entry')
  await hand.style({
    'List entries': 'in turn',
    'Entry stands for': 2.4,
    'What stands round travels for': 18,
  })

  // Upright: the event below its time, in two lines.
  await hand.shape('9:16')
  await hand.choose('Time')
  await hand.tie('Time', 'bottom', 'title-safe', 'bottom', -362)
  await hand.choose('Event')
  await hand.tie('Event', 'left', 'Time', 'left')
  await hand.tie('Event', 'bottom', 'title-safe', 'bottom', -286)
  await hand.style({ Size: 56 })
  await hand.handoff()
  for (const [field, note, limit] of [
    ['Time', 'When each begins, as 18:30.', 12],
    ['Event', 'What begins then, in the same order.', 60],
  ] as const) {
    await hand.explain(field, note)
    await hand.number(page.getByLabel('Characters each'), limit)
  }
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'agenda', ['programme'])
})
