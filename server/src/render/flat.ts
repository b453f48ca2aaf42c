import { boxOf } from '@hoja/core/layout'
import { type FlatLayer, flatLayers } from '@hoja/core/output'
import { colourOf, type Layout, placesOf, type Scene, type SpokenRun } from '@hoja/core/scene'
import { type Field, findPart, languageOf, type Part, type PartId, type Template } from '@hoja/core/template'
import { rateText } from '@hoja/core/time'
import type { Raster } from './raster.ts'
import { framePng } from './still.ts'

/** A layer of a template taken apart, and what it looks like when every part has arrived. */
export type FlatPicture = FlatLayer & { png: Uint8Array }

/** Draws each layer by itself, as for the poster's filling. `scale`: picture px per frame px. */
export function flatPictures(scene: Scene, merged: boolean, scale: number, raster: Raster): FlatPicture[] {
  const { layout, timing } = poster(scene)
  return flatLayers(scene.template, merged).map((layer) => {
    const only = new Set(layer.kind === 'clip' ? layer.parts : [layer.part])
    return { ...layer, png: framePng(scene.posed(layout, timing, timing.in).drawList(only), raster, scale) }
  })
}

function poster(scene: Scene, frames?: number) {
  const { template } = scene
  const layout = scene.layout(template.poster.values)
  const timing = scene.timing(layout, frames)
  return {
    layout,
    timing: { ...timing, in: Math.min(timing.in, timing.total - 1) },
  }
}

/**
 * What a system needs to put its own text between the clips: the layers in order, where the editable ones lie, and all
 * that they are drawn with. `docs/layers.md` says how to read it.
 */
export function flatDescription(
  scene: Scene,
  merged: boolean,
  frames: number | undefined,
  fileOf: (parts: readonly PartId[]) => string | undefined,
): object {
  const { template } = scene
  const { layout } = poster(scene)
  const timing = scene.timing(layout, frames)
  const { width, height, rate } = template.frame
  const layers = flatLayers(template, merged).map((layer) => {
    if (layer.kind === 'clip')
      return { kind: 'clip', name: layer.name, file: fileOf(layer.parts) ?? null, follows: layer.follows }
    const part = findPart(layout.template, layer.part)!
    const where = placesOf(scene, layout, timing, layer.part)
    const fields = template.fields.filter(({ key }) => layer.fields.includes(key)).map(fieldFacts(template))
    return { kind: 'editable', name: layer.name, part: part.kind, fields, ...drawnWith(scene, layout, part), ...where }
  })
  return {
    about:
      'Layers, the lowest first. Boxes are px of the frame; matrices (a b c d e f, as in SVG) move what rests there.',
    template: template.name,
    frame: { width, height, rate: rateText(rate) },
    frames: timing.total,
    in: timing.in,
    out: timing.out,
    colour: 'sRGB, coded values 0 to 255; straight alpha',
    language: languageOf(template),
    palette: template.palette.map(({ name, colour }) => ({ name, colour })),
    layers,
  }
}

/** What a field takes; colours of the palette by what they are. */
const fieldFacts =
  (template: Template) =>
  ({ id: _, targets: _targets, onAir: _onAir, options, fonts, ...facts }: Field) => ({
    ...(lookedUp(template, facts) as object),
    ...(options ? { options: options.map(({ value, name }) => ({ value, name })) } : {}),
    ...(fonts ? { fonts: fonts.map((id) => fontFacts(template, id)) } : {}),
  })

/** The same value with every colour of the palette looked up, however deep. */
function lookedUp(template: Template, value: unknown): unknown {
  if (typeof value === 'string') return value.startsWith('palette:') ? colourOf(template, value) : value
  if (Array.isArray(value)) return value.map((one) => lookedUp(template, one))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, lookedUp(template, one)]))
}

function fontFacts({ fonts }: Template, id: unknown) {
  const file = fonts.find((font) => font.id === id) ?? fonts[0]
  return file && { family: file.family, style: file.style, file: file.file, sha256: file.sha256 }
}

/** All that a part is drawn with, as on the poster, and of a text its font, its runs and where its lines stand. */
function drawnWith({ template }: Scene, layout: Layout, part: Part): object {
  const index = layout.rest.order.parts.findIndex(({ id }) => id === part.id)
  const { font, content, ...style } = layout.content.styles[index]! as Record<string, unknown>
  const block = layout.blocks[index]
  if (part.kind !== 'text' || !block) return { style }
  const box = boxOf(layout.rest, index)
  const shown = block.boxes[(style.shows as 'line') ?? 'line']
  const first = box.y - shown.y
  return {
    style,
    text: {
      font: fontFacts(template, font),
      /** Frame px of the first line's baseline, and from each to the next. */
      baseline: first,
      lineHeight: Number(style.size) * Number(style.leading),
      lines: block.lineCount,
      /** px that there is; null: as much as it wants. */
      room: block.fit.room ?? null,
      direction: block.direction,
      runs: (content as SpokenRun[]).map(({ field, font: own, language, text, ...rest }) => ({
        text,
        ...(field ? { field: template.fields.find(({ id }) => id === field)?.key } : {}),
        ...(own ? { font: fontFacts(template, own) } : {}),
        ...(language ? { language } : {}),
        ...Object.fromEntries(Object.entries(rest).filter(([, value]) => value !== undefined)),
      })),
    },
  }
}
