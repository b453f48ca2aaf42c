import { test } from '@playwright/test'
import { Hand } from '../hand.ts'
import { complaints, expect, exportTo } from './export.ts'

// A card with a wave drawn by hand; it shrinks when the boats line is switched off.
test('tide', async ({ page }) => {
  const wrong = complaints(page)
  const hand = new Hand(page)
  await hand.startTemplate('Tide')
  await hand.frame({ note: 'Tide at a station: height, trend, and whether the boats run. Upper left.' })
  await hand.palette([
    ['Deep', '#0e3b4a'],
    ['Shallow', '#2f8f9d'],
    ['Foam', '#eef5f0'],
    ['Signal', '#f0b541'],
  ])
  await hand.font('Archivo', 'Bold')
  await hand.font('Archivo', 'Medium')
  await hand.spans({ in: 20, hold: 110, out: 15 })

  await hand.add('box', 'Card')
  await hand.gradient(90, ['Deep', 'Shallow'])
  await hand.corners(18)
  await hand.shadow(0, 12, 34)
  await hand.add('path', 'Wave')

  await hand.add('text', 'Station')
  await hand.words('Puerto Brisal, outer mole')
  await hand.look({ Font: 'Archivo Medium', Size: 36, Colour: 'Foam' })
  await hand.expose()
  await hand.add('text', 'Height')
  await hand.words('3.42 m')
  await hand.look({ Font: 'Archivo Bold', Size: 104, Tracking: -15, Colour: 'Foam' })
  await hand.expose()
  await hand.add('text', 'Trend')
  await hand.words('rising, high water 14:52')
  await hand.look({ Font: 'Archivo Medium', Size: 32, Colour: 'Signal' })
  await hand.expose()
  await hand.add('text', 'Boats')
  await hand.words('Boats are running')
  await hand.look({ Font: 'Archivo Medium', Size: 32, Colour: 'Foam' })

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
  await hand.recipe('Card', 'around', ['Station', 'Height', 'Trend', 'Boats'], { room: [40, 40, 30, 96] })
  await hand.atLeast('Card', 'x', 380, 'left')

  // The wave: points set on the frame, closed along the foot of the card.
  await hand.choose('Wave')
  await hand.wave()
  await hand.recipe('Wave', 'inside', ['Card'], { room: [0, 0, 0, 0], on: 'across' })
  await hand.tie('Wave', 'bottom', 'Card', 'bottom')
  await hand.size('Wave', 'y', 110)
  await hand.fill('Foam')
  await hand.look({ Opacity: 22 })
  await hand.matte('Card')

  await hand.choose('Card')
  await hand.move('Spring tide')
  await hand.channel('Shift down', { Unit: 'off the frame' })
  await hand.keys('Shift down', [
    [0, -1, 'Moor'],
    [14, 0],
  ])
  for (const [part, move] of [
    ['Wave', 'Uncover'],
    ['Station', 'Surface'],
    ['Height', 'Shingle'],
    ['Trend', 'Drift in'],
    ['Boats', 'Drift in'],
  ] as const) {
    await hand.choose(part)
    await hand.move(move)
  }
  await hand.gatherFirst(['Wave', 'Station', 'Height', 'Trend', 'Boats'], 8)
  await hand.handoff()
  await hand.explain('Height', 'Metres over chart datum, with the unit.', 8)
  await hand.explain('Trend', 'Which way it goes, and the next high or low water.', 40)
  await hand.exposeProperty('Shown', 'Boats')
  await hand.saved()
  expect(wrong).toEqual([])
  await exportTo(page, 'tide', ['data', 'corner'])
})
