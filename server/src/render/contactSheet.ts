import { type Match, type Row, valuesOf } from '@hoja/core/data'
import type { OutputSettings } from '@hoja/core/output'
import type { Scene } from '@hoja/core/scene'
import { createCanvas, ImageData } from '@napi-rs/canvas'
import { fontOf, registerFonts } from '../signoff/sheetFonts.ts'
import type { Raster } from './raster.ts'

/** A title on a contact sheet. */
export interface SheetTitle {
  /** From 1. */
  n: number
  /** What its file is called. */
  name: string
  row: Row
}

const columns = 4
/** Titles of one picture. */
const most = 48
/** px */
const [wide, gap, margin, head, foot] = [380, 20, 40, 72, 34]
const [ink, soft, paper, grey] = ['#20261f', '#5b6459', '#f6f4ee', '#7a7a77']

/** What the pictures are called. */
export const sheetName = (page: number): string => `contact_sheet${page === 0 ? '' : `_${page + 1}`}.png`

/**
 * Pictures of all titles of an output, so many to each, with their rows and names: in the frame that stills of the order show,
 * on grey, or over its colour.
 */
export function contactSheets(
  scene: Scene,
  match: Match,
  titles: readonly SheetTitle[],
  about: string,
  { at, backdrop }: Pick<OutputSettings, 'at' | 'backdrop'>,
  raster: Raster,
): Buffer[] {
  registerFonts()
  const { frame } = scene.template
  const scale = wide / frame.width
  const high = Math.max(1, Math.round(frame.height * scale))
  const sheets: Buffer[] = []
  for (let from = 0; from < titles.length; from += most) {
    const some = titles.slice(from, from + most)
    const lines = Math.ceil(some.length / columns)
    const width = 2 * margin + columns * wide + (columns - 1) * gap
    const height = head + lines * (high + foot + gap) + margin
    const canvas = createCanvas(width, height)
    const context = canvas.getContext('2d')
    context.fillStyle = paper
    context.fillRect(0, 0, width, height)
    context.fillStyle = ink
    context.font = fontOf(22, 600)
    context.fillText(scene.template.name, margin, 44)
    context.fillStyle = soft
    context.font = fontOf(15)
    context.textAlign = 'right'
    context.fillText(about, width - margin, 44)
    context.textAlign = 'left'
    for (const [i, { n, name, row }] of some.entries()) {
      const x = margin + (i % columns) * (wide + gap)
      const y = head + Math.floor(i / columns) * (high + foot + gap)
      context.fillStyle = backdrop?.kind === 'colour' ? backdrop.colour : grey
      context.fillRect(x, y, wide, high)
      const layout = scene.layout(valuesOf(scene.template, match, row).values)
      const timing = scene.timing(layout)
      const asked = at === 'poster' ? scene.posterFrame : (at ?? scene.settled(layout, timing))
      const list = scene.posed(layout, timing, Math.min(asked, timing.total - 1)).drawList()
      const rgba = raster.draw(list, { x: 0, y: 0, width: frame.width, height: frame.height }, scale)
      const small = createCanvas(wide, high)
      small.getContext('2d').putImageData(new ImageData(new Uint8ClampedArray(rgba), wide, high), 0, 0)
      context.drawImage(small, x, y)
      context.save()
      context.beginPath()
      context.rect(x, y + high, wide, foot)
      context.clip()
      context.fillStyle = ink
      context.font = fontOf(14, 600)
      context.fillText(String(n), x, y + high + 20)
      context.fillStyle = soft
      context.font = fontOf(14)
      context.fillText(name, x + 44, y + high + 20)
      context.restore()
    }
    sheets.push(canvas.toBuffer('image/png'))
  }
  return sheets
}
