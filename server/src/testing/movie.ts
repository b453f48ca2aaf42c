import { templateFor } from '@hoja/core/output'
import { Scene } from '@hoja/core/scene'
import { openPackage } from '../packageFolder.ts'
import { loadAssets } from '../render/assets.ts'
import type { Movie } from '../render/movie/movie.ts'
import { movieOf, planTitle } from '../render/plan.ts'
import { Raster } from '../render/raster.ts'
import { demo } from './running.ts'

const opened = await openPackage(`${demo}/templates/speaker`)
const assets = await loadAssets(opened.template, (entry) => opened.files[entry.file]!)

/** A title of the demo at 30000/1001 frames a second, as it goes to an encoder. */
export function titleMovie(frames = 60, size = { width: 384, height: 216 }): Movie {
  const scene = new Scene(templateFor({ size, rate: { num: 30000, den: 1001 } }, opened.template), assets)
  const layout = scene.layout({ name: 'Ngọc Ánh Trần' })
  const plan = planTitle(scene, layout, scene.timing(layout, frames))
  return movieOf(plan, new Raster(), scene)
}

/** The whole frame of a movie's picture, as its raster gives it. */
export function wholeFrame({ width, height, region, draw }: Movie, picture: number): Buffer {
  const full = Buffer.alloc(width * height * 4)
  const own = region.width * 4
  const rgba = draw(picture)
  for (let y = 0; y < region.height; y++)
    full.set(rgba.subarray(y * own, (y + 1) * own), ((region.y + y) * width + region.x) * 4)
  return full
}
