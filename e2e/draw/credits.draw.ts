import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// Who made it, rolling up: a heading, or what somebody did and who it was.
test('credits', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Credits', {
    note: 'Who made it, rolling up over the darkened picture: headings, and what somebody did beside who it was.',
  })
  await houseFonts(hand)
  await hand.spans({ in: 20, hold: 500, out: 20 })

  await hand.add('box', 'Dusk')
  await hand.fill('Deep water')
  await hand.style({ Opacity: 82 })
  await hand.add('box', 'Air')
  await hand.add('text', 'Heading')
  await hand.words('On the water')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 60, Tracking: 30, Colour: 'Lamp amber' })
  await hand.expose()
  await hand.add('text', 'Role')
  await hand.words('Boats')
  await hand.style({ Font: 'Barlow Condensed Medium', Size: 50, Colour: 'Low tide' })
  await hand.expose()
  await hand.add('text', 'Name')
  await hand.words('Iñaki Zubeldia')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 50, Colour: 'Shell' })
  await hand.expose()

  await hand.choose('Dusk')
  for (const side of ['left', 'right', 'top', 'bottom'] as const) await hand.tie('Dusk', side, 'the frame', side)
  await hand.recipe('Heading', 'centred on', ['the frame'], { on: 'across' })
  // A heading stands further away from what is above it.
  await hand.choose('Air')
  await hand.tie('Air', 'left', 'Heading', 'left', 0, { gone: 'go too' })
  await hand.tie('Air', 'right', 'Heading', 'right', 0, { gone: 'go too' })
  await hand.tie('Air', 'bottom', 'Heading', 'top', 0, { gone: 'go too' })
  await hand.size('Air', 'y', 56)
  await hand.style({ Opacity: 0 })
  await hand.choose('Role')
  await hand.tie('Role', 'right', 'the frame', 'centre', -22)
  await hand.tie('Role', 'bottom', 'Name', 'bottom')
  await hand.choose('Name')
  await hand.tie('Name', 'left', 'the frame', 'centre', 22)
  await hand.tie('Name', 'top', 'Heading', 'bottom', 14)
  await hand.roomTo('title-safe', 'right', 0)
  await hand.fit([
    ['tighten', -15],
    ['condense', 80],
    ['shrink', 70],
  ])
  await hand.choose('Air', 'Heading', 'Role', 'Name')
  await hand.group('Roll')

  await hand.choose('Dusk')
  await hand.move('Surface')
  await hand.handoff()
  await hand.list('Heading', ['On the water', '', '', 'On the quay', ''])
  await hand.list('Role', ['', 'Boats', '', '', 'Sound'])
  await hand.list('Name', ['', 'Iñaki Zubeldia', 'Wilhelmina Fotheringay-Ludlow', '', 'Ngọc Ánh Trần'])
  await hand.draft()
  await hand.choose('Roll')
  await hand.style({ 'List entries': 'rolling', Speed: 100, 'Between entries': 14, Steps: 'steady' })

  // Upright: what somebody did stands above who it was.
  await hand.shape('9:16')
  await hand.recipe('Name', 'centred on', ['the frame'], { on: 'across' })
  await hand.recipe('Role', 'centred on', ['the frame'], { on: 'across' })
  await hand.choose('Role')
  await hand.tie('Role', 'bottom', 'Name', 'top', 2)
  await hand.choose('Name')
  await hand.tie('Name', 'top', 'Heading', 'bottom', 64)
  await hand.choose('Role')
  await hand.style({ Size: 40 })
  await hand.handoff()
  await hand.explain('Heading', 'What comes below it; empty beside every name.')
  await hand.explain('Role', 'What somebody did; empty where it is as above.')
  await hand.explain('Name', 'Who it was; `---` begins a new page.')
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'credits', ['credits'])
})
