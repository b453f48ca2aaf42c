import { boxOf } from '@hoja/core/layout'
import { Scene } from '@hoja/core/scene'
import { edit, newPart, newTemplate, type Part, type Template } from '@hoja/core/template'
import { tieAsDrawn } from '@hoja/core/tying'
import fc from 'fast-check'
import { assets, speaker } from '../../../../core/src/testing/speaker.ts'
import { beginnings, drawBeginning } from '../beginnings.ts'
import { drawnLine, drawnPart, drawnPath, freshPart } from './drawn.ts'
import { pickedTie } from './picking.ts'
import { partAt, partsWithin, placedParts } from './placed.ts'

const empty: Template = { ...speaker, parts: [], fields: [], proofs: [] }
const boxIn = (template: Template, id: string) => {
  const { rest } = new Scene(template, assets).layout({})
  return boxOf(rest, rest.order.index.get(id)!)
}
const withPart = (part: Part) => edit(empty, { kind: 'addPart', part })
const place = fc.integer({ min: 0, max: 900 })
const length = fc.integer({ min: 4, max: 900 })

test('what is drawn over an area rests on it, to whole px; a click gives a part of its usual size', () => {
  fc.assert(
    fc.property(
      place,
      place,
      length,
      length,
      fc.constantFrom('box' as const, 'ellipse' as const, 'path' as const),
      (x, y, width, height, kind) => {
        const part = drawnPart(empty, kind, { x, y, width, height })
        expect(boxIn(withPart(part), part.id)).toEqual({ x, y, width, height })
      },
    ),
  )
  expect(boxIn(withPart(drawnPart(empty, 'box', { x: 40, y: 50, width: 1, height: 0 })), 'box1')).toEqual({
    x: 40,
    y: 50,
    width: 320,
    height: 120,
  })
})

test('new parts get free names and the colours of the palette', () => {
  const one = withPart(freshPart(empty, 'box'))
  expect(freshPart(one, 'box')).toMatchObject({ id: 'box2', name: 'Box 2', style: { fill: 'palette:night' } })
  expect(freshPart({ ...newTemplate('t', 'T'), palette: [] }, 'box').style).toEqual({})
})

test('a line nearly level or upright becomes so; others keep their slope', () => {
  expect(drawnLine(empty, 100, 200, 700, 203)).toMatchObject({
    y: { place: 198, size: { value: 4 } },
    x: { size: { value: 600 } },
  })
  expect(drawnLine(empty, 100, 200, 103, 700)).toMatchObject({ x: { place: 98, size: { value: 4 } } })
  const slope = drawnLine(empty, 100, 700, 400, 200)
  expect(slope.style).toMatchObject({
    outlines: [
      {
        points: [
          { x: 0, y: 1 },
          { x: 1, y: 0 },
        ],
      },
    ],
    fill: null,
  })
})

test('a path through pen points passes through every one of them', () => {
  const points = fc.array(
    fc.tuple(place, place, fc.integer({ min: -80, max: 80 }), fc.integer({ min: -80, max: 80 })),
    { minLength: 2, maxLength: 6 },
  )
  fc.assert(
    fc.property(points, fc.boolean(), (list, closed) => {
      const pen = list.map(([x, y, dx, dy]) => ({ x, y, dx, dy }))
      const part = drawnPath(empty, pen, closed && pen.length > 2)
      const outline = (part.style as { outlines: { points: { x: number; y: number }[] }[] }).outlines[0]!
      const [w, h] = [(part.x.size as { value: number }).value || 1, (part.y.size as { value: number }).value || 1]
      outline.points.forEach((point, i) => {
        expect(Math.abs(part.x.place + point.x * w - pen[i]!.x)).toBeLessThan(0.02)
        expect(Math.abs(part.y.place + point.y * h - pen[i]!.y)).toBeLessThan(0.02)
      })
    }),
  )
})

const scene = new Scene(speaker, assets)
const placed = placedParts(speaker, scene, scene.layout({}))
const at = (id: string) => placed.find((p) => p.part.id === id)!

test('the uppermost part at a point is found; locked ones and groups are not, thin ones are within reach', () => {
  const name = at('name').box
  expect(partAt(placed, name.x + 5, name.y + 20)!.part.id).toBe('name')
  const locked = placed.map((p) => (p.part.id === 'name' ? { ...p, part: { ...p.part, locked: true } } : p))
  expect(partAt(locked, name.x + 5, name.y + 20)!.part.id).toBe('plate')
  expect(partAt(placed, 4, 4)).toBeUndefined()
  const thin = placed.map((p) => ({
    ...p,
    part: { ...newPart('box', p.part.id, 'x') },
    box: { x: 500, y: 500, width: 2, height: 90 },
  }))
  expect(partAt(thin, 504, 520)).toBeDefined()
  expect(partsWithin(placed, { x: 0, y: 0, width: 1920, height: 1080 })).toHaveLength(7)
  expect(partsWithin(placed, { x: 0, y: 0, width: 10, height: 10 })).toEqual([])
})

test('a pick ties to the nearest third of a part, or the nearest line of the frame, and moves nothing', () => {
  const highlight = at('highlight').box
  const pick = { for: 'edge' as const, part: 'highlight', axis: 'x' as const, edge: 'start' as const }
  const mount = at('mount')
  for (const [u, edge] of [
    [0.1, 'start'],
    [0.5, 'middle'],
    [0.9, 'end'],
  ] as const) {
    const change = pickedTie(speaker, placed, pick, mount, mount.box.x + mount.box.width * u, mount.box.y + 9, false)
    const made = edit(speaker, change)
    const tie = made.parts.find((p) => p.id === 'highlight')!.x.ties[0]!
    expect(tie).toMatchObject({ edge: 'start', to: { parts: ['mount'] }, at: edge })
    expect(Math.abs(boxIn(made, 'highlight').x - highlight.x)).toBeLessThanOrEqual(0.5)
  }
  const region = pickedTie(speaker, placed, pick, undefined, 1825, 40, false)
  expect(edit(speaker, region).parts.find((p) => p.id === 'highlight')!.x.ties[0]).toMatchObject({
    to: { region: 'title' },
    at: 'end',
  })
  const joined = pickedTie(
    speaker,
    placed,
    { ...pick, part: 'plate', edge: 'end' },
    mount,
    mount.box.x,
    mount.box.y,
    true,
  )
  expect(edit(speaker, joined).parts.find((p) => p.id === 'plate')!.x.ties[1]!.to).toEqual({
    parts: ['name', 'role', 'mount'],
  })
})

test('every beginning lies in title-safe or across the frame, and is read as what it was drawn for', () => {
  const said = beginnings.map(({ parts }) => {
    const template = edit(empty, drawBeginning(new Scene(empty, assets), parts))
    const { rest } = new Scene(template, assets).layout({})
    for (const part of template.parts) {
      const { x, width } = boxOf(rest, rest.order.index.get(part.id)!)
      if (width < 1920) expect([x >= 95.5, x + width <= 1824.5]).toEqual([true, true])
    }
    return tieAsDrawn(template, rest).flatMap(({ about, options }) => (about === 'ties' ? options[0]!.sentence : []))
  })
  expect(said).toEqual([
    [
      'Text 1 stands 44 inside title-safe’s left, 108.8 inside title-safe’s bottom',
      'Text 2 stands under Text 1, 5.2 into it, same left as Text 1',
      'Box 1 stands around Text 1 and Text 2, 44 left, 43.6 right, 14 above, 15.2 below',
    ],
    [
      'Box 1 stands on title-safe’s right, 10 inside title-safe’s top',
      'Text 1 stands left of Box 1, 24 off, 8 inside title-safe’s top',
      'Text 2 stands under Text 1, 6.4 into it, same right as Text 1',
    ],
    [
      'Box 1 stands in the middle of the frame across, 394 inside title-safe’s bottom',
      'Text 1 stands above Box 1, 12.4 above, in the middle of the frame across',
      'Text 2 stands under Box 1, 20 below, in the middle of the frame across',
    ],
    [
      'Text 1 stands on title-safe’s left, 16.6 inside title-safe’s bottom',
      'Box 1 is as wide as the frame, is as high as Text 1 with 11 top and 10.6 bottom',
    ],
  ])
})
