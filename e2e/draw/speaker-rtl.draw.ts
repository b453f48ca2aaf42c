import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { startInHouse } from './house.ts'

// The speaker the other way round: stands on the right, grows to the left, says what it says right to left.
test('speaker, right to left', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Speaker RTL', {
    language: 'ar',
    note: 'Lower third for the Arabic broadcast of Estuary Week. Bottom right, grows to the left.',
  })
  await hand.spans({ in: 15, hold: 95, out: 15 })
  await hand.carry('demo/templates/speaker/media/vado.png', 'demo/templates/speaker/media/lamp.png')

  await hand.add('box', 'Plate')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)
  await hand.add('box', 'Edge')
  await hand.fill('Lamp amber')
  await hand.add('box', 'Highlight')
  await hand.fill('Low tide')
  await hand.add('box', 'Mount')
  await hand.fill('Shell')
  await hand.corners(26)
  await hand.add('picture', 'Mark')
  await hand.add('text', 'Name')
  await hand.words('ليلى الساحلي')
  await hand.style({ Font: 'Noto Sans Arabic SemiBold', Size: 66, Colour: 'Shell' })
  await hand.expose()
  await hand.add('text', 'Role')
  await hand.words('باحثة في المد والجزر')
  await hand.style({ Font: 'Noto Sans Arabic SemiBold', Size: 36, Colour: 'Lamp amber' })
  await hand.expose()

  await hand.choose('Edge')
  await hand.tie('Edge', 'right', 'title-safe', 'right')
  await hand.size('Edge', 'x', 10)
  await hand.choose('Mount')
  await hand.tie('Mount', 'right', 'Edge', 'left', -24)
  await hand.tie('Mount', 'bottom', 'title-safe', 'bottom', -36)
  await hand.size('Mount', 'x', 132)
  await hand.size('Mount', 'y', 132)
  for (const name of ['Name', 'Role']) {
    await hand.choose(name)
    await hand.tie(name, 'right', 'Mount', 'left', -34)
    await hand.roomTo('title-safe', 'left', 54)
    await hand.fit([
      ['condense', 88],
      ['shrink', 75],
    ])
  }
  await hand.choose('Role')
  await hand.tie('Role', 'top', 'Name', 'bottom', -24)
  await hand.choose('Name', 'Role')
  await page.keyboard.press('g')
  await hand.rename('Words')
  await hand.recipe('Words', 'centred on', ['Mount'], { on: 'down' })
  await hand.recipe('Plate', 'around', ['Name', 'Role'], { room: [46, 0, 0, 0], on: 'across' })
  await hand.tie('Plate', 'right', 'Edge', 'left')
  await hand.recipe('Plate', 'around', ['Mount', 'Name', 'Role'], { room: [0, 0, 20, 20], on: 'down' })
  await hand.atLeast('Plate', 'x', 420, 'right')
  await hand.recipe('Edge', 'inside', ['Plate'], { room: [0, 0, 0, 0], on: 'down' })
  await hand.recipe('Highlight', 'inside', ['Plate'], { room: [0, 0, 0, 0], on: 'down' })
  await hand.tie('Highlight', 'right', 'Plate', 'left', 0, { follows: 'while it moves' })
  await hand.size('Highlight', 'x', 8)
  await hand.recipe('Mark', 'inside', ['Mount'], { room: [0, 0, 0, 0] })
  await hand.style({ Picture: 'vado.png' })
  await hand.matte('Mount')

  for (const [part, move] of [
    ['Edge', 'Stand up'],
    ['Plate', 'Unroll'],
    ['Highlight', 'Surface'],
    ['Mount', 'Bob up'],
    ['Mark', 'Surface'],
    ['Name', 'Out of the mist'],
    ['Role', 'Surface'],
  ] as const) {
    await hand.choose(part)
    await hand.move(move)
  }
  await hand.choose('Plate')
  await hand.channel('Grow', { From: 'from its end' })
  await hand.choose('Name')
  await hand.channel('Reveal', { From: 'from right' })
  await hand.shape('9:16')
  await hand.handoff()
  await hand.explain('Name', 'First name and surname, no title.', 40)
  await hand.explain('Role', 'As it should read on air, no full stop.', 60)
  await hand.exposeProperty('Picture', 'Mark')
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'speaker-rtl', ['names', 'lower third', 'Arabic'])
})
