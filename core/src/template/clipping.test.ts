import fc from 'fast-check'
import { boxOf } from '../layout/index.ts'
import { pasteMotion } from '../motion/index.ts'
import { Scene } from '../scene/index.ts'
import { axis, box, fixed, part, tie, to } from '../testing/parts.ts'
import { assets, speaker, templateOf } from '../testing/speaker.ts'
import {
  allParts,
  clip,
  clipStyle,
  duplicate,
  edit,
  findPart,
  group,
  newPart,
  newTemplate,
  paste,
  pasteStyle,
  readClipping,
  readShelfStyle,
  readyStyles,
  reframe,
  savedStyle,
  styleLines,
  type Template,
  type Track,
  ungroup,
} from './index.ts'

const boxes = (template: Template) => {
  const { rest } = new Scene(template, assets).layout({})
  return new Map(rest.order.parts.map((p, i) => [p.id, boxOf(rest, i)]))
}

test('a duplicate keeps size, style, ties and motion, and ties among duplicates stay among them', () => {
  const { change, ids } = duplicate(speaker, ['plate', 'name'])
  const made = edit(speaker, change)
  expect(ids).toHaveLength(2)
  const [plate, name] = ids.map((id) => findPart(made, id)!)
  expect(plate!.style).toEqual(findPart(speaker, 'plate')!.style)
  expect(plate!.motion).toEqual(findPart(speaker, 'plate')!.motion)
  expect(JSON.stringify(plate!.x)).toContain(name!.id)
  const rest = boxes(made)
  expect(rest.get(plate!.id)).toEqual(rest.get('plate'))
  expect(made.parts.map((p) => p.id).slice(0, speaker.parts.length)).toEqual(speaker.parts.map((p) => p.id))
})

test('grouping and ungrouping any parts moves nothing', () => {
  const ids = speaker.parts.map((p) => p.id)
  const before = boxes(speaker)
  fc.assert(
    fc.property(fc.subarray(ids, { minLength: 1 }), (chosen) => {
      const grouped = group(speaker, chosen)
      const made = edit(speaker, grouped.change)
      const inside = findPart(made, grouped.id)!.parts!.map((p) => p.id)
      expect(inside).toEqual(ids.filter((id) => chosen.includes(id)))
      for (const [id, place] of boxes(made)) if (before.has(id)) expect(place).toEqual(before.get(id))
      const apart = edit(made, ungroup(made, grouped.id).change)
      expect(
        allParts(apart.parts)
          .map((p) => p.id)
          .sort(),
      ).toEqual(
        allParts(speaker.parts)
          .map((p) => p.id)
          .sort(),
      )
      for (const [id, place] of boxes(apart)) expect(place).toEqual(before.get(id))
    }),
    { numRuns: 40 },
  )
})

test('what was tied to a group is tied to its parts when it is taken apart', () => {
  const template = templateOf([
    box('a', axis([], fixed(10), { place: 40 })),
    box('b', axis([], fixed(10), { place: 90 })),
    box('c', axis([tie('start', to('g'), 'end', 5)], fixed(3))),
  ])
  const grouped = group({ ...template, parts: [template.parts[0]!, template.parts[1]!] }, ['a', 'b'])
  const made = edit(edit({ ...template, parts: template.parts.slice(0, 2) }, grouped.change), {
    kind: 'addPart',
    part: { ...template.parts[2]!, x: axis([tie('start', to(grouped.id), 'end', 5)], fixed(3)) },
  })
  expect(boxes(made).get('c')!.x).toBe(105)
  const apart = edit(made, ungroup(made, grouped.id).change)
  expect(boxes(apart).get('c')!.x).toBe(105)
  expect(findPart(apart, 'c')!.x.ties[0]!.to).toEqual(to('a', 'b'))
})

test('parts pasted into another template bring their fields, colours, fonts and pictures, and draw the same', () => {
  const clipping = readClipping(
    JSON.stringify(
      clip(
        speaker,
        speaker.parts.map((p) => p.id),
      ),
    ),
  )!
  const empty: Template = { ...newTemplate('other', 'Other'), palette: [], frame: speaker.frame, spans: speaker.spans }
  const { change, ids } = paste(empty, clipping)
  const made = edit(empty, change)
  expect(ids).toHaveLength(speaker.parts.length)
  expect(made.fields.map((f) => f.key).sort()).toEqual(speaker.fields.map((f) => f.key).sort())
  expect(made.fonts.map((f) => f.sha256)).toEqual(expect.arrayContaining(clipping.fonts.map((font) => font.sha256)))
  const drawn = (template: Template) => {
    const scene = new Scene({ ...template, fallbacks: [] }, assets)
    return JSON.stringify(scene.restFrame(scene.layout({})))
  }
  expect(drawn(made)).toBe(drawn(speaker))
  // Once more: everything is there already and is used again.
  const again = edit(made, paste(made, clipping).change)
  expect(again.fields).toHaveLength(made.fields.length)
  expect(again.fonts).toEqual(made.fonts)
  expect(again.palette).toEqual(made.palette)
  expect(allParts(again.parts)).toHaveLength(allParts(made.parts).length * 2)
})

test('ties to what was not copied are let go, within one template they hold; other text is no clipping', () => {
  const only = clip(speaker, ['plate'])
  const empty: Template = { ...newTemplate('other', 'Other'), palette: [] }
  const alone = edit(empty, paste(empty, only).change)
  expect(alone.parts[0]!.x.ties).toEqual([])
  const same = edit(speaker, paste(speaker, only).change)
  expect(same.parts[same.parts.length - 1]!.x.ties).toHaveLength(2)
  expect(readClipping('{"a":1}')).toBeUndefined()
  expect(readClipping('plate')).toBeUndefined()
  expect(() => paste(speaker, { ...only, parts: [] })).toThrow('No parts were copied')
})

test('a frame of another size: ties keep their meaning, lengths grow with it when asked', () => {
  const uhd = { ...speaker.frame, width: 3840, height: 2160 }
  const grown = edit(speaker, reframe(speaker, uhd, true))
  const [before, now] = [boxes(speaker), boxes(grown)]
  for (const [id, b] of before) {
    const n = now.get(id)!
    for (const side of ['x', 'y', 'width', 'height'] as const) expect(Math.abs(n[side] - 2 * b[side])).toBeLessThan(0.1)
  }
  const kept = boxes(edit(speaker, reframe(speaker, uhd, false)))
  // Still on the left and bottom of title-safe, at its own size.
  expect(kept.get('edge')!.x).toBeCloseTo(3840 * 0.05, 6)
  expect(kept.get('name')!.width).toBeCloseTo(before.get('name')!.width, 6)
  const tall = boxes(edit(speaker, reframe(speaker, { ...speaker.frame, width: 1080, height: 1920 }, true)))
  expect(tall.get('edge')!.x).toBeCloseTo(1080 * 0.05, 6)
})

test('another rate keeps the seconds: keys, spans and poster', () => {
  const doubled = edit(speaker, reframe(speaker, { ...speaker.frame, rate: { num: 50, den: 1 } }, false))
  expect(doubled.spans).toMatchObject({ in: 30, out: 30, hold: { frames: 190 } })
  expect(doubled.poster.frame).toBe(speaker.poster.frame * 2)
  const ats = (template: Template) =>
    allParts(template.parts).flatMap((p) =>
      Object.values(p.motion.tracks).flatMap((track) => (track as Track).keys.map((key) => key.at)),
    )
  expect(ats(doubled)).toEqual(ats(speaker).map((n) => n * 2))
  const back = edit(doubled, reframe(doubled, speaker.frame, false))
  expect(back.spans).toEqual(speaker.spans)
  expect(ats(back)).toEqual(ats(speaker))
})

test('a part is replaced, locked, and guides are drawn', () => {
  const oval = { ...part('ellipse', 'mount', axis([], fixed(9)), axis([], fixed(9))), name: 'Oval' }
  const made = edit(speaker, {
    kind: 'several',
    changes: [
      { kind: 'replacePart', part: oval },
      { kind: 'lock', part: 'edge', locked: true },
      { kind: 'guides', guides: [{ axis: 'x', at: 100 }] },
    ],
  })
  expect(findPart(made, 'mount')!.kind).toBe('ellipse')
  expect(findPart(made, 'edge')!.locked).toBe(true)
  expect(edit(made, { kind: 'lock', part: 'edge', locked: false }).parts).not.toContainEqual(
    expect.objectContaining({ locked: true }),
  )
  expect(() => edit(speaker, { kind: 'replacePart', part: { ...oval, id: 'nobody' } })).toThrow('There is no part')
})

describe('styles travel', () => {
  const name = findPart(speaker, 'name')!
  const role = findPart(speaker, 'role')!

  test('a style goes to another part with its colours and its font; words, place and motion stay', () => {
    const other = edit(speaker, pasteStyle(speaker, clip(speaker, ['name']), ['role']))
    const made = findPart(other, 'role')!
    for (const [key] of styleLines('text'))
      expect((made.style as Record<string, unknown>)[key]).toEqual((name.style as Record<string, unknown>)[key])
    expect(made.style).toMatchObject({ content: (role.style as { content: unknown }).content })
    expect([made.x, made.y, made.motion]).toEqual([role.x, role.y, role.motion])
    // The same once more changes nothing.
    expect(edit(other, pasteStyle(other, clip(speaker, ['name']), ['role']))).toEqual(other)
  })

  test('into another template it brings what it uses, once; chosen lines alone leave the others', () => {
    const empty = edit(newTemplate('t', 'T'), { kind: 'addPart', part: newPart('text', 'words', 'Words') })
    const clipping = clip(speaker, ['name'])
    const whole = edit(empty, pasteStyle(empty, clipping, ['words']))
    const words = findPart(whole, 'words')!.style as { font: string; size: number; colour: string }
    expect(whole.fonts.find((font) => font.id === words.font)).toMatchObject({ family: 'Barlow Condensed' })
    expect(whole.palette.map((entry) => entry.name)).toContain(
      speaker.palette.find((entry) => (name.style as { colour: string }).colour === `palette:${entry.id}`)!.name,
    )
    expect(edit(whole, pasteStyle(whole, clipping, ['words'])).fonts).toEqual(whole.fonts)
    const size = edit(empty, pasteStyle(empty, clipping, ['words'], ['size']))
    expect(findPart(size, 'words')!.style).toMatchObject({ size: 78 })
    expect(findPart(size, 'words')!.style).not.toHaveProperty('colour', words.colour)
    // A line that uses no font and no colour brings none.
    expect([size.fonts, size.palette]).toEqual([empty.fonts, empty.palette])
  })

  test('a kind takes what it has in common; where that is nothing, a sentence says so', () => {
    const made = edit(
      speaker,
      pasteStyle(speaker, clip(speaker, ['plate']), ['name'], ['opacity', 'fill', 'radiusTopLeft']),
    )
    const plate = findPart(speaker, 'plate')!.style as { fill: unknown }
    expect(findPart(made, 'name')!.style).toMatchObject({ fill: plate.fill })
    expect(() => pasteStyle(speaker, clip(speaker, ['plate']), ['name'], ['radiusTopLeft'])).toThrow(
      'The style of a box has nothing that the chosen parts have',
    )
    expect(() => pasteStyle(speaker, { ...clip(speaker, []), parts: [] }, ['name'])).toThrow('No style was copied')
  })

  test('a motion goes to other parts; what moves characters goes to texts alone', () => {
    const segments = { by: 'character', order: 'forward', seed: 1, overlap: 0.5, tracks: {} } as const
    const moving = edit(speaker, { kind: 'motion', part: 'name', motion: { ...name.motion, segments } })
    const made = edit(moving, pasteMotion(moving, clip(moving, ['name']), ['role', 'plate']))
    expect(findPart(made, 'role')!.motion).toEqual({ ...name.motion, segments })
    expect(findPart(made, 'plate')!.motion).toEqual(name.motion)
    // A box has no letters to space: that channel stays behind.
    const spaced = {
      ...name.motion,
      tracks: { ...name.motion.tracks, track: { keys: [{ span: 'in', at: 0, value: 80, ease: 'linear' }] } },
    } as const
    const wide = edit(speaker, { kind: 'motion', part: 'name', motion: spaced as never })
    const taken = edit(wide, pasteMotion(wide, clip(wide, ['name']), ['role', 'plate']))
    expect(findPart(taken, 'role')!.motion.tracks).toHaveProperty('track')
    expect(findPart(taken, 'plate')!.motion.tracks).not.toHaveProperty('track')
  })

  test('what is kept on the shelf reads back as it was; what no template may hold is refused', () => {
    for (const saved of [savedStyle(name, 'Speaker'), ...readyStyles]) {
      const clipping = clipStyle(speaker, saved)
      const read = readShelfStyle(JSON.parse(JSON.stringify({ name: saved.name, clipping })))
      expect(read.clipping).toEqual(clipping)
      expect(Object.keys(clipping.parts[0]!.style)).not.toContain('content')
    }
    const good = clipStyle(speaker, savedStyle(name, 'S'))
    for (const [broken, why] of [
      [{ name: '', clipping: good }, 'needs a name'],
      [{ name: 'S', clipping: { hoja: 'parts', parts: [] } }, 'is no copied part'],
      [{ name: 'S', clipping: { ...good, parts: [{ ...good.parts[0], style: { size: -4 } }] } }, 'size'],
      [{ name: 'S', clipping: { ...good, palette: [] } }, 'palette'],
    ] as const)
      expect(() => readShelfStyle(broken)).toThrow(new RegExp(why, 'i'))
  })

  test("a template's own styles are kept with it, and its colours in them are known as used", () => {
    const saved = savedStyle(findPart(speaker, 'plate')!, 'Deep')
    const kept = edit(speaker, { kind: 'styles', styles: [saved] })
    expect(kept.styles).toEqual([saved])
    expect(() => edit(kept, { kind: 'styles', styles: [{ ...saved, kind: 'blob' as 'box' }] })).toThrow()
  })
})
