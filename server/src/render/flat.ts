import { type FlatLayer, flatLayers } from '@hoja/core/output'
import { placesOf, type Scene } from '@hoja/core/scene'
import type { Field, Part, PartId } from '@hoja/core/template'
import { findPart } from '@hoja/core/template'
import { rateText } from '@hoja/core/time'
import type { Raster } from './raster.ts'
import { framePng } from './still.ts'

/** A layer of a template taken apart, and what it looks like when every part has arrived. */
export type FlatPicture = FlatLayer & { png: Uint8Array }

/** Draws each layer by itself, as for the poster's filling. `scale`: picture px per frame px. */
export function flatPictures(scene: Scene, merged: boolean, scale: number, raster: Raster): FlatPicture[] {
  const { settled, timing } = poster(scene)
  return flatLayers(scene.template, merged).map((layer) => {
    const only = new Set(layer.kind === 'clip' ? layer.parts : [layer.part])
    return { ...layer, png: framePng(scene.posed(settled, timing, timing.in).drawList(only), raster, scale) }
  })
}

function poster(scene: Scene, frames?: number) {
  const { template } = scene
  const timing = scene.timing(frames)
  return {
    settled: scene.settle(template.poster.values),
    timing: { ...timing, in: Math.min(timing.in, timing.total - 1) },
  }
}

/** What a system needs to put its own text between the clips: the layers in order, and where the editable ones lie. */
export function flatDescription(
  scene: Scene,
  merged: boolean,
  frames: number | undefined,
  fileOf: (parts: readonly PartId[]) => string | undefined,
): object {
  const { template } = scene
  const { settled } = poster(scene)
  const timing = scene.timing(frames)
  const { width, height, rate } = template.frame
  const layers = flatLayers(template, merged).map((layer) => {
    if (layer.kind === 'clip')
      return { kind: 'clip', name: layer.name, file: fileOf(layer.parts) ?? null, follows: layer.follows }
    const part = findPart(settled.template, layer.part)!
    const where = placesOf(scene, settled, timing, layer.part)
    const fields = template.fields.filter(({ key }) => layer.fields.includes(key)).map(fieldFacts)
    return { kind: 'editable', name: layer.name, part: part.kind, fields, ...look(scene, part), ...where }
  })
  return {
    about:
      'Layers, the lowest first. Boxes are px of the frame; matrices (a b c d e f, as in SVG) move what rests there.',
    template: template.name,
    frame: { width, height, rate: rateText(rate) },
    frames: timing.total,
    in: timing.in,
    out: timing.out,
    layers,
  }
}

const fieldFacts = ({ key, name, note, type, required, limit, lines }: Field) => ({
  key,
  name,
  note,
  type,
  required,
  ...(limit === undefined ? {} : { limit }),
  ...(lines === undefined ? {} : { lines }),
})

/** What a text is set in. */
function look(scene: Scene, part: Part): object {
  if (part.kind !== 'text') return {}
  const { template } = scene
  const { content, font, ...rest } = part.look
  const file = template.fonts.find(({ id }) => id === font) ?? template.fonts[0]
  return { text: { ...rest, ...(file ? { font: { family: file.family, style: file.style } } : {}) } }
}
