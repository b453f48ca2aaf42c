import { Scene } from '@hoja/core/scene'
import { newPart } from '@hoja/core/template'
import { sideBySide, speakerScene } from './kit.mjs'

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
  const each = (count) => times[count].least / count
  return {
    name: 'Solving a drawing',
    figures: [50, 200, 800].map(
      (count) => `${count} parts: ${times[count].median.toFixed(2)} ms (least ${times[count].least.toFixed(2)})`,
    ),
    ratios: [
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
