import { createHash } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { demoNames, demoScene } from '../../../core/src/testing/speaker.ts'
import { Raster } from './raster.ts'
import { engine } from './title.ts'

/** What the demo's titles looked like when the render engine last got another number. */
interface Kept {
  engine: number
  /** By template: SHA-256 of what is drawn in some frames, and mean colours of 16 x 9 tiles of the settled one. */
  titles: Record<string, { drawn: string; tiles: number[] }>
}
const file = new URL('./engine.json', import.meta.url)

const tilesOf = (rgba: ArrayLike<number>, width: number, height: number): number[] =>
  Array.from({ length: 16 * 9 * 4 }, (_, i) => {
    const [tile, channel] = [Math.floor(i / 4), i % 4]
    const [left, top] = [(tile % 16) * Math.floor(width / 16), Math.floor(tile / 16) * Math.floor(height / 9)]
    let sum = 0
    const [w, h] = [Math.floor(width / 16), Math.floor(height / 9)]
    for (let y = top; y < top + h; y++)
      for (let x = left; x < left + w; x++) sum += rgba[(y * width + x) * 4 + channel]!
    return Math.round(sum / (w * h))
  })

async function titleOf(name: string): Promise<Kept['titles'][string]> {
  const scene = await demoScene(name)
  const layout = scene.layout(scene.template.poster.values)
  const timing = scene.timing(scene.layout({}))
  const frames = [2, scene.template.spans.in, timing.total - 3]
  const hash = createHash('sha256')
  for (const frame of frames)
    hash.update(
      // Whose a layer is does not change what it draws.
      JSON.stringify(scene.frame(layout, timing, frame), (key, value) =>
        key === 'of'
          ? undefined
          : ArrayBuffer.isView(value)
            ? createHash('sha256')
                .update(value as Uint8Array)
                .digest('hex')
            : value,
      ),
    )
  const list = scene.restFrame(layout)
  const region = { x: 0, y: 0, width: list.width, height: list.height }
  return {
    drawn: hash.digest('hex'),
    tiles: tilesOf(new Raster().draw(list, region, 1 / 4), list.width / 4, list.height / 4),
  }
}

// What is found again by its key must be what would be rendered now. A change of what is drawn raises the number in
// `title.ts`; then `UPDATE_PICTURES=1 npx jest engine` keeps the pictures that go with it.
test('when the pictures of the demo’s templates change, the number of the render engine does', async () => {
  const titles: Kept['titles'] = {}
  for (const name of demoNames) titles[name] = await titleOf(name)
  if (process.env.UPDATE_PICTURES) writeFileSync(file, `${JSON.stringify({ engine, titles })}\n`)
  const kept = JSON.parse(readFileSync(file, 'utf8')) as Kept
  expect(Object.keys(kept.titles).sort()).toEqual([...demoNames].sort())
  const changed = demoNames.filter((name) => {
    const [was, is] = [kept.titles[name]!, titles[name]!]
    // Machines round by their instructions; nobody sees two of 255 in a tile.
    return was.drawn !== is.drawn || is.tiles.some((mean, i) => Math.abs(mean - was.tiles[i]!) > 2)
  })
  expect({ engine, changed }).toEqual({ engine: kept.engine, changed: [] })
})
