import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// Right-aligned: grows leftward from the safe area, a line that keeps its length relative to the name.
test('place', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Place', { note: 'Where we are: place and coordinates. Bottom right, grows to the left.' })
  await houseFonts(hand)
  await hand.spans({ in: 18, hold: 88, out: 14 })

  await hand.add('box', 'Band')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)
  await hand.add('box', 'Line')
  await hand.fill('Low tide')
  await hand.add('ellipse', 'Pin')
  await hand.fill('Lamp amber')
  await hand.add('text', 'Place')
  await hand.words('Lower Vado saltworks')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 78, Align: 'end', Colour: 'Shell' })
  await hand.expose()
  await hand.add('text', 'Coordinates')
  await hand.words('43° 31.2′ N · 8° 14.7′ W')
  await hand.style({
    Font: 'Barlow Condensed Medium',
    Size: 43,
    Tracking: 8,
    Align: 'end',
    Colour: 'Lamp amber',
    'tabular figures': true,
  })
  await hand.expose()

  await hand.choose('Coordinates')
  await hand.tie('Coordinates', 'right', 'title-safe', 'right', -44)
  await hand.tie('Coordinates', 'bottom', 'title-safe', 'bottom', -22)
  await hand.choose('Place')
  await hand.tie('Place', 'right', 'title-safe', 'right', -44)
  await hand.tie('Place', 'bottom', 'Coordinates', 'top', 2)
  await hand.roomTo('title-safe', 'left', 150)
  await hand.fit([
    ['tighten', -15],
    ['shrink', 70],
  ])
  await hand.choose('Pin')
  await hand.size('Pin', 'x', 30)
  await hand.size('Pin', 'y', 30)
  await hand.recipe('Pin', 'beside', ['Place'], { side: 'left of it', line: 'at its middle', gap: 28 })
  await hand.recipe('Band', 'around', ['Pin', 'Place', 'Coordinates'], { room: [44, 0, 18, 22] })
  await hand.tie('Band', 'right', 'title-safe', 'right')
  await hand.recipe('Line', 'share', ['Band'], { on: 'the width', share: 100 })
  await hand.tie('Line', 'right', 'Band', 'right')
  await hand.tie('Line', 'bottom', 'Band', 'top')
  await hand.size('Line', 'y', 6)

  await hand.choose('Line')
  await hand.move('Unroll')
  await hand.channel('Grow', { From: 'from its end' })
  await hand.keys('Grow', [
    [0, 0, 'Moor'],
    [12, 1],
  ])
  await hand.choose('Band')
  await hand.move('Waterline')
  await hand.keys('Shift down', [
    [4, 1, 'Moor'],
    [16, 0],
  ])
  await hand.keys('Reveal', [
    [4, 0, 'Moor'],
    [16, 1],
  ])
  await hand.choose('Pin')
  await hand.move('Bob up')
  await hand.choose('Place')
  await hand.move('Rise')
  await hand.choose('Coordinates')
  await hand.move('Letter by letter')
  await hand.shape('9:16')
  await hand.handoff()
  await hand.explain('Place', 'As on the festival map, without the country.', 36)
  await hand.explain('Coordinates', 'Degrees and minutes, latitude first; leave empty indoors.', 30)
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'place', ['places'])
})
