import { airDesign, measuredRun } from '@hoja/core/air'
import { checkKnown, checkRow, KnownNames, matchByKey, rowAbout, weighed } from '@hoja/core/data'
import { valueTexts } from '@hoja/core/formats'
import { touchedBy } from '@hoja/core/scene'
import { Raster } from '../render/raster.ts'
import { sceneOf } from '../render/scenes.ts'
import type { Of, Results } from './tasks.ts'

const raster = new Raster()

/** Seconds: a title that waits until it is told to leave can be read, whatever it says. */
const longHold = 60

/** What is found about titles that are to go on air, and what their channel has to know of them. */
export async function readyTitles({ titles, picture, known, now }: Of<'readyTitles'>): Promise<Results['readyTitles']> {
  const names = new KnownNames(known)
  const ready: Results['readyTitles'] = []
  for (const { source, template: id, number, cells, hold = longHold } of titles) {
    const { width, height, rate } = picture
    const scene = await sceneOf(source, { size: { width, height }, rate })
    const { template } = scene
    const match = matchByKey(template)
    const row = rowAbout(template, { cells }, { now, row: 1, rows: 1 })
    const { spans } = template
    const frames = spans.in + Math.max(1, Math.round((hold * rate.num) / rate.den)) + spans.out
    const { findings, values } = checkRow(scene, match, row, 1, frames, raster.looks)
    const slips = weighed(template, checkKnown(names, template, match, row, 1))
    ready.push({
      design: airDesign(scene, { template: id, number }),
      findings: [...findings, ...slips],
      region: touchedBy(scene, values),
      run: measuredRun(scene, scene.layout(values)),
    })
  }
  return ready
}

export const readValues = async ({ rows, paths }: Of<'readValues'>): Promise<Results['readValues']> =>
  paths.map((path) => valueTexts(rows, path))
