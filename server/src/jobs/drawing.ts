import { checkLayout, generatedProofs, KnownNames, localMoment, SheetChecker } from '@hoja/core/data'
import type { Box } from '@hoja/core/geometry'
import { readableCrop, Scene } from '@hoja/core/scene'
import type { PartId, Values } from '@hoja/core/template'
import { loadAssets } from '../render/assets.ts'
import { contactSheets as sheetsOf } from '../render/contactSheet.ts'
import { flatDescription as descriptionOf, flatPictures as layersOf } from '../render/flat.ts'
import { previewLoop } from '../render/loop.ts'
import { releasePixels } from '../render/memory.ts'
import { Raster } from '../render/raster.ts'
import { sceneOf } from '../render/scenes.ts'
import { nearView, restPng, rowPng, type View, wholeFrame } from '../render/still.ts'
import { pictureSize } from '../signoff/sheet.ts'
import { Intake } from './intake.ts'
import type { DrawnProof, Of, Results, Shown } from './tasks.ts'

const raster = new Raster()

export async function previewPackage({
  file,
  files,
  instead,
  scale,
}: Of<'previewPackage'>): Promise<Results['previewPackage']> {
  const { pack, missing } = await new Intake(files).opened(file, instead)
  if (!pack) return { missing }
  const { template } = pack
  const scene = new Scene(template, await loadAssets(template, (entry) => pack.files[entry.file]!))
  const proof = (name: string, values: Values, frame?: number): DrawnProof => {
    const layout = scene.layout(values)
    return {
      name,
      png: restPng(scene, values, frame, wholeFrame(scene.template, scale), raster),
      findings: checkLayout(scene, layout, scene.timing(layout), 1, raster.looks),
    }
  }
  const proofs = [
    proof('Poster', template.poster.values, scene.posterFrame),
    ...[...template.proofs, ...generatedProofs(template)].map((one) => proof(one.name, one.values)),
  ]
  return { name: template.name, came: pack.files['poster.png'] ?? null, proofs }
}

/** ms that a sheet is looked at, at most: what was not is looked at when it is rendered, and held there. */
const looking = 120_000

export async function check({ source, match, rows, known }: Of<'check'>): Promise<Results['check']> {
  const scene = await sceneOf(source)
  const now = localMoment(new Date())
  const checker = new SheetChecker({ scene, match }, new Map(), new KnownNames(known), now, raster.looks)
  checker.splice({ at: 1, remove: 0, rows })
  checker.compare()
  const until = performance.now() + looking
  checker.lookAtAll(() => performance.now() > until)
  return rows.map((_, i) => checker.findings(i + 1))
}

export async function rowPictures({ rows }: Of<'rowPictures'>): Promise<Uint8Array[]> {
  const pictures: Uint8Array[] = []
  for (const { source, match, row } of rows)
    pictures.push(rowPng(await sceneOf(source), match, row, pictureSize, raster))
  await releasePixels()
  return pictures
}

export async function contactSheets(task: Of<'contactSheets'>): Promise<Uint8Array[]> {
  const { source, settings, match, titles } = task
  const scene = await sceneOf(source, settings)
  const about = `${titles.length} ${titles.length === 1 ? 'title' : 'titles'}`
  const sheets = sheetsOf(scene, match, titles, about, settings, raster)
  await releasePixels()
  return sheets
}

const viewOf = (scene: Scene, values: Values, { show }: Shown): View =>
  'scale' in show ? wholeFrame(scene.template, show.scale) : nearView(scene, values, show.shape, show.width)

export async function still({ source, values, frame, ...shown }: Of<'still'>): Promise<Uint8Array> {
  const scene = await sceneOf(source)
  return restPng(scene, values, frame === 'poster' ? scene.posterFrame : frame, viewOf(scene, values, shown), raster)
}

export const near = async ({ source, values, shape }: Of<'near'>): Promise<Box> =>
  readableCrop(await sceneOf(source), values, shape)

export async function loop({ source, values, ...shown }: Of<'loop'>): Promise<Uint8Array> {
  const scene = await sceneOf(source)
  const bytes = previewLoop(scene, values, viewOf(scene, values, shown), raster)
  await releasePixels()
  return bytes
}

export async function flatPictures({ source, merged, scale }: Of<'flatPictures'>): Promise<Results['flatPictures']> {
  const layers = layersOf(await sceneOf(source), merged, scale, raster)
  await releasePixels()
  return layers
}

export async function flatDescription({ source, settings, names }: Of<'flatDescription'>): Promise<object> {
  const fileOf = (parts: readonly PartId[]) =>
    names.find((one) => one.parts.length === parts.length && one.parts.every((id, i) => id === parts[i]))?.file
  return descriptionOf(await sceneOf(source, settings), settings.parts !== 'apart', settings.frames, fileOf)
}
