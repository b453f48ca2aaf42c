import { Hand } from '../hand.ts'
import { test } from '../test.ts'
import { complaints, expect, exportTo } from './export.ts'
import { houseFonts, startInHouse } from './house.ts'

// A card with the last day's curve along its foot; it shrinks when the boats line is switched off.
test('tide', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await startInHouse(hand, 'Tide', { note: 'Tide at a station: height, trend, and whether the boats run. Upper left.' })
  await houseFonts(hand)
  await hand.spans({ in: 20, hold: 110, out: 15 })

  await hand.add('box', 'Card')
  await hand.gradient(90, ['Night tide', 'Deep water'])
  await hand.shadow(0, 10, 28)
  await hand.add('curve', 'Curve')
  await hand.add('box', 'Edge')
  await hand.fill('Lamp amber')

  await hand.add('text', 'Station')
  await hand.words('Puerto Brisal, outer mole')
  await hand.style({ Font: 'Barlow Condensed Medium', Size: 43, Colour: 'Shell' })
  await hand.expose()
  await hand.add('text', 'Height')
  await hand.words('3.42 m')
  await hand.style({ Font: 'Barlow Condensed SemiBold', Size: 104, Colour: 'Shell' })
  await hand.expose()
  await hand.add('text', 'Trend')
  await hand.words('rising, high water 14:52')
  await hand.style({ Font: 'Barlow Condensed Medium', Size: 43, Colour: 'Lamp amber' })
  await hand.expose()
  await hand.add('text', 'Boats')
  await hand.words('Boats are running')
  await hand.style({ Font: 'Barlow Condensed Medium', Size: 43, Colour: 'Shell' })

  await hand.choose('Station')
  await hand.tie('Station', 'left', 'title-safe', 'left', 40)
  await hand.tie('Station', 'top', 'title-safe', 'top', 34)
  await hand.roomTo('title-safe', 'centre', 0)
  await hand.fit([
    ['tighten', -10],
    ['shrink', 70],
  ])
  await hand.choose('Height')
  await hand.tie('Height', 'left', 'Station', 'left')
  await hand.tie('Height', 'top', 'Station', 'bottom', -6)
  await hand.choose('Trend')
  await hand.tie('Trend', 'left', 'Station', 'left')
  await hand.tie('Trend', 'top', 'Height', 'bottom', -12)
  await hand.choose('Boats')
  await hand.tie('Boats', 'left', 'Station', 'left')
  await hand.tie('Boats', 'top', 'Trend', 'bottom', 10)
  await hand.recipe('Card', 'around', ['Station', 'Height', 'Trend', 'Boats'], { room: [40, 40, 30, 132] })
  await hand.atLeast('Card', 'x', 400, 'left')
  await hand.recipe('Edge', 'inside', ['Card'], { room: [0, 0, 0, 0], on: 'down' })
  await hand.tie('Edge', 'left', 'Card', 'left')
  await hand.size('Edge', 'x', 14)

  // The curve of the last day's heights, filled below, along the foot of the card.
  await hand.recipe('Curve', 'inside', ['Card'], { room: [0, 0, 0, 0], on: 'across' })
  await hand.tie('Curve', 'bottom', 'Card', 'bottom')
  await hand.size('Curve', 'y', 112)
  await hand.fill('Low tide')
  await hand.style({ Opacity: 60, Line: 'smooth' })
  await hand.matte('Card')

  await hand.choose('Card')
  await hand.move('Spring tide')
  await hand.channel('Shift down', { Unit: 'off the frame' })
  await hand.keys('Shift down', [
    [0, -1, 'Moor'],
    [14, 0],
  ])
  await hand.choose('Edge')
  await hand.move('Stand up')
  await hand.keys('Grow', [
    [10, 0, 'Moor'],
    [18, 1],
  ])
  for (const [part, move] of [
    ['Curve', 'Uncover'],
    ['Station', 'Surface'],
    ['Height', 'Rise'],
    ['Trend', 'Drift in'],
    ['Boats', 'Drift in'],
  ] as const) {
    await hand.choose(part)
    await hand.move(move)
  }
  await hand.gatherFirst(['Curve', 'Station', 'Height', 'Trend', 'Boats'], 8)
  await hand.shape('9:16')
  await hand.handoff()
  await hand.explain('Trend', 'Which way it goes, and the next high or low water.', 40)
  await hand.kind('Height', 'number')
  await hand.explain('Height', 'Metres over chart datum.')
  await hand.set({ Decimals: '2', 'Unit behind the number, with its space': ' m' })
  await hand.set({ 'Default of Height': '3.42' })
  await hand.exposeProperty('Numbers', 'Curve')
  await hand.explain('Curve', 'Heights of the last day, evenly spaced: 1.2; 1.6; 2.1 …')
  await hand.set({
    'Default of Curve': '1.1; 1.5; 2.2; 2.9; 3.3; 3.4; 3.1; 2.5; 1.8; 1.3; 1.1; 1.4; 2.0; 2.7; 3.2; 3.42',
  })
  await hand.exposeProperty('Shown', 'Boats')
  await hand.called('Boats shown', 'Boats are running', 'boats')
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'tide', ['data', 'corner'])
})
