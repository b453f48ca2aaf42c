import { checkRow } from '@hoja/core/data'
import { Scene } from '@hoja/core/scene'
import { commonShapes, contentAxis, edit, everyShape, fixedAxis, newPart, newShape } from '@hoja/core/template'
import { fieldsAsDrawn, tieAsDrawn } from '@hoja/core/tying'
import { sideBySide, speakerScene } from './kit.mjs'

/** A hundred plates with a text on each, none of them tied: what *Tie as drawn* is asked to read at most. */
function untied(base) {
  const parts = Array.from({ length: 100 }, (_, i) => {
    const [x, y] = [60 + (i % 10) * 180, 40 + Math.floor(i / 10) * 100]
    const box = { ...newPart('box', `b${i}`, `b${i}`), x: fixedAxis(x, 160), y: fixedAxis(y, 80) }
    const text = { ...newPart('text', `t${i}`, `t${i}`), x: contentAxis(x + 12), y: contentAxis(y + 8) }
    return [box, { ...text, style: { ...text.style, size: 24 } }]
  }).flat()
  return new Scene({ ...base.template, parts, fields: [], proofs: [] }, base.assets)
}

/** Solving drawings of growing size: the cost of a tie stays the same. */
export async function benchLayout() {
  const base = await speakerScene()
  const drawing = (count) => {
    const parts = Array.from({ length: count }, (_, i) => {
      const tie = (edge, at) => ({
        edge,
        to: i ? { parts: [`p${i - 1}`] } : { region: 'frame' },
        at,
        gap: 3,
        follow: 'settled',
        gone: 'collapse',
      })
      const part = newPart('box', `p${i}`, `p${i}`)
      return {
        ...part,
        x: { ...part.x, ties: [tie('start', 'start')] },
        y: { ...part.y, ties: i % 2 ? [tie('end', 'end')] : [] },
      }
    })
    return new Scene({ ...base.template, parts, fields: [] }, base.assets)
  }
  const scenes = Object.fromEntries([50, 200, 800].map((n) => [n, drawing(n)]))
  let n = 0
  const times = await sideBySide(
    Object.fromEntries(Object.entries(scenes).map(([count, scene]) => [count, () => scene.layout({ n: n++ })])),
    200,
    50,
  )
  const loose = untied(base)
  const { rest } = loose.layout({})
  const read = await sideBySide(
    { read: () => [tieAsDrawn(loose.template, rest), fieldsAsDrawn(loose.template, rest)] },
    10,
  )
  // Names that were never set before, so that every row is worked out.
  let row = 0
  const cells = () => ({ cells: { name: `Maren Oduya ${row++}`, role: 'Salt-marsh ecologist' } })
  const match = { name: 'name', role: 'role' }
  const shaped = commonShapes(base.template.frame)
    .slice(1)
    .reduce(
      (now, size) => edit(now, { kind: 'shapes', shapes: [...(now.shapes ?? []), newShape(now, size)] }),
      base.template,
    )
  const four = new Scene(shaped, base.assets)
  const alone = everyShape(shaped).map(({ template }) => new Scene(template, base.assets))
  const shapes = await sideBySide(
    {
      one: () => checkRow(four, match, cells(), 1),
      four: () => {
        const own = cells()
        for (const scene of alone) checkRow(scene, match, own, 1)
      },
    },
    300,
    60,
  )
  const each = (count) => times[count].least / count
  return {
    name: 'Solving a drawing',
    figures: [
      ...[50, 200, 800].map(
        (count) => `${count} parts: ${times[count].median.toFixed(2)} ms (least ${times[count].least.toFixed(2)})`,
      ),
      `a row checked in four shapes of one template: ${shapes.one.median.toFixed(2)} ms, in four templates: ${shapes.four.median.toFixed(2)} ms`,
      `Tie as drawn, 200 parts read: ${read.read.median.toFixed(0)} ms (least ${read.read.least.toFixed(0)})`,
    ],
    ratios: [
      {
        claim: 'a row in a template of four shapes against four templates of one',
        want: 1,
        median: shapes.one.median / shapes.four.median,
        least: shapes.one.least / shapes.four.least,
        atLeast: false,
      },
      {
        claim: '100 ms for Tie as drawn on 200 parts, of',
        want: 1,
        median: read.read.median / 100,
        least: read.read.least / 100,
        atLeast: false,
      },
      {
        claim: '4 ms for 200 parts and 300 ties, of',
        want: 1,
        median: times[200].median / 4,
        least: times[200].least / 4,
        atLeast: false,
      },
      {
        claim: 'cost a part at 800 parts against 50',
        want: 1.5,
        median: times[800].median / 800 / (times[50].median / 50),
        least: each(800) / each(50),
        atLeast: false,
      },
    ],
  }
}
