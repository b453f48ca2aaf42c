import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { startInHouse } from './house.ts'

// A picture cut to a round mount, the Latin name in italics, the common name below.
test('species', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Species', {
    note: 'What swims, flies or grows here. Bottom left, picture in a round mount.',
  })
  await hand.font('IBM Plex Serif', 'Italic')
  await hand.font('Barlow Condensed', 'SemiBold')
  await hand.spans({ in: 20, hold: 105, out: 15 })
  await hand.carry('demo/templates/speaker/media/eel.png', 'demo/templates/speaker/media/gull.png')

  await hand.add('box', 'Label')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)
  await hand.add('box', 'Spine')
  await hand.fill('Lamp amber')
  await hand.add('ellipse', 'Mount')
  await hand.fill('Shell')
  await hand.shadow(0, 10, 26)
  await hand.add('ellipse', 'Window')
  await hand.style({ 'Only a matte': true })
  await hand.add('picture', 'Picture')
  await hand.add('text', 'Latin name')
  await hand.words('Anguilla brisalensis')
  await hand.style({ Font: 'IBM Plex Serif Italic', Size: 66, Colour: 'Shell' })
  await hand.expose()
  await hand.add('text', 'Common name')
  await hand.words('Brisal eel')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 43, Tracking: 30, Case: 'upper', Colour: 'Lamp amber' })
  await hand.expose()

  await hand.choose('Mount')
  await hand.tie('Mount', 'left', 'title-safe', 'left')
  await hand.tie('Mount', 'bottom', 'title-safe', 'bottom')
  await hand.size('Mount', 'x', 208)
  await hand.size('Mount', 'y', 208)
  // A ring of the mount goes round whatever picture a row brings.
  await hand.recipe('Window', 'inside', ['Mount'], { room: [9, 9, 9, 9] })
  await hand.recipe('Picture', 'inside', ['Window'], { room: [0, 0, 0, 0] })
  await hand.style({ Picture: 'eel.png' })
  await hand.matte('Window')
  await hand.choose('Latin name')
  await hand.tie('Latin name', 'left', 'Mount', 'right', 40)
  await hand.tie('Latin name', 'bottom', 'Mount', 'middle', 20)
  await hand.roomTo('title-safe', 'right', -60)
  await hand.fit([
    ['tighten', -10],
    ['shrink', 65],
  ])
  await hand.choose('Common name')
  await hand.tie('Common name', 'left', 'Latin name', 'left')
  await hand.tie('Common name', 'top', 'Latin name', 'bottom', -6)
  await hand.recipe('Label', 'around', ['Latin name', 'Common name'], { room: [140, 56, 14, 18] })
  // While the label runs out, nothing of the words is seen beside it.
  for (const name of ['Latin name', 'Common name']) {
    await hand.choose(name)
    await hand.matte('Label')
  }
  await hand.recipe('Spine', 'inside', ['Label'], { room: [0, 0, 0, 0], on: 'down' })
  await hand.tie('Spine', 'right', 'Label', 'right', 0, { follows: 'while it moves' })
  await hand.size('Spine', 'x', 12)

  for (const [part, move] of [
    ['Mount', 'Bob up'],
    ['Window', 'Bob up'],
    ['Picture', 'Come near'],
    ['Label', 'Unroll'],
    ['Spine', 'Surface'],
    ['Latin name', 'Uncover'],
    ['Common name', 'Rise'],
  ] as const) {
    await hand.choose(part)
    await hand.move(move)
  }
  await hand.shape('9:16')
  await hand.handoff()
  await hand.explain('Latin name', 'Genus and species, no author.', 40)
  await hand.explain('Common name', 'As the river people say it.', 40)
  await hand.exposeProperty('Picture', 'Picture')
  await hand.onlySample()
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'species', ['names', 'pictures'])
})
