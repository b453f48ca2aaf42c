import type { Brush, DrawList, Item, LayerItem, PathItem } from './drawList.ts'
import { identity, lengthFactor, type Matrix } from './matrix.ts'
import type { Pixels } from './picture.ts'

const n = (value: number) => String(Math.round(value * 1000) / 1000)
const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`)

/** One frame as a stand-alone SVG 1.1 document. `png` gives the bytes of a picture as base64 PNG. */
export function paintSvg(list: DrawList, png: (pixels: Pixels) => string): string {
  const writer = new Writer(png)
  const body = list.items.map((item) => writer.item(item)).join('')
  return `<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${list.width}" height="${list.height}" viewBox="0 0 ${list.width} ${list.height}"><defs>${writer.defs.join('')}</defs>${body}</svg>\n`
}

class Writer {
  readonly defs: string[] = []
  constructor(private readonly png: (pixels: Pixels) => string) {}

  private define(make: (id: string) => string): string {
    const id = `d${this.defs.length + 1}`
    this.defs.push('')
    this.defs[Number(id.slice(1)) - 1] = make(id)
    return id
  }

  item(item: Item): string {
    if (item.kind === 'layer') return this.layer(item)
    if (item.kind === 'path') return this.path(item)
    const { x, y, width, height } = item.bounds
    return `<image x="${n(x)}" y="${n(y)}" width="${n(width)}" height="${n(height)}" preserveAspectRatio="none" xlink:href="data:image/png;base64,${this.png(item.pixels)}"/>`
  }

  private paint(attribute: 'fill' | 'stroke', brush: Brush | undefined): string {
    if (brush === undefined) return ` ${attribute}="none"`
    if (typeof brush === 'string')
      return ` ${attribute}="${brush.slice(0, 7)}"${this.alpha(`${attribute}-opacity`, brush)}`
    const stops = brush.stops
      .map(
        ([at, colour]) =>
          `<stop offset="${n(at)}" stop-color="${colour.slice(0, 7)}"${this.alpha('stop-opacity', colour)}/>`,
      )
      .join('')
    const id = this.define((own) =>
      brush.kind === 'linear'
        ? `<linearGradient id="${own}" gradientUnits="userSpaceOnUse" x1="${n(brush.x0)}" y1="${n(brush.y0)}" x2="${n(brush.x1)}" y2="${n(brush.y1)}">${stops}</linearGradient>`
        : `<radialGradient id="${own}" gradientUnits="userSpaceOnUse" cx="${n(brush.x)}" cy="${n(brush.y)}" r="${n(brush.radius)}">${stops}</radialGradient>`,
    )
    return ` ${attribute}="url(#${id})"`
  }

  private alpha(attribute: string, colour: string): string {
    return colour.length === 9 ? ` ${attribute}="${n(Number.parseInt(colour.slice(7), 16) / 255)}"` : ''
  }

  private path(item: PathItem): string {
    const { stroke: s, shadows } = item
    const stroke = s
      ? `${this.paint('stroke', s.brush)} stroke-width="${n(s.width)}"${s.cap ? ` stroke-linecap="${s.cap}"` : ''}${s.join ? ` stroke-linejoin="${s.join}"` : ''}${s.dash ? ` stroke-dasharray="${n(s.dash)}"` : ''}`
      : ''
    const filter = shadows?.length ? ` filter="url(#${this.shadowFilter(shadows)})"` : ''
    return `<path d="${escaped(item.d)}"${this.paint('fill', item.fill)}${stroke}${filter}/>`
  }

  /** Each shadow is cast by the shape alone; all lie below it, the first on top. */
  private shadowFilter(shadows: NonNullable<PathItem['shadows']>): string {
    const casts = shadows.map(
      (shadow, i) =>
        `<feDropShadow in="SourceGraphic" dx="${n(shadow.x)}" dy="${n(shadow.y)}" stdDeviation="${n(shadow.blur / 2)}" flood-color="${shadow.colour.slice(0, 7)}"${this.alpha('flood-opacity', shadow.colour)} result="s${i}"/>`,
    )
    const merged = shadows.map((_, i) => `<feMergeNode in="s${i}"/>`).reverse()
    return this.define(
      (id) =>
        `<filter id="${id}" x="-100%" y="-100%" width="300%" height="300%">${casts.join('')}${shadows.length > 1 ? `<feMerge>${merged.join('')}</feMerge>` : ''}</filter>`,
    )
  }

  private layer(layer: LayerItem): string {
    if (layer.opacity <= 0 || layer.items.length === 0) return ''
    let body = layer.items.map((item) => this.item(item)).join('')
    if (layer.clip !== undefined)
      body = `<g clip-path="url(#${this.define((id) => `<clipPath id="${id}"><path d="${escaped(layer.clip!)}"/></clipPath>`)})">${body}</g>`
    if (layer.blur)
      body = `<g filter="url(#${this.define((id) => `<filter id="${id}" x="-100%" y="-100%" width="300%" height="300%"><feGaussianBlur stdDeviation="${n(layer.blur! / lengthFactor(layer.matrix))}"/></filter>`)})">${body}</g>`
    if (layer.soft) body = `<g mask="url(#${this.softMask(layer.soft)})">${body}</g>`
    const transform =
      layer.matrix === identity || isIdentity(layer.matrix)
        ? ''
        : ` transform="matrix(${layer.matrix.map(n).join(' ')})"`
    const opacity = layer.opacity < 1 ? ` opacity="${n(layer.opacity)}"` : ''
    const blend = layer.blend ? ` style="mix-blend-mode:${layer.blend}"` : ''
    const group = transform || opacity || blend ? `<g${transform}${opacity}${blend}>${body}</g>` : body
    return layer.matte ? `<g mask="url(#${this.matte(layer.matte)})">${group}</g>` : group
  }

  private softMask(soft: NonNullable<LayerItem['soft']>): string {
    const fill = this.paint('fill', {
      kind: 'linear',
      ...soft,
      stops: [
        [0, '#ffffff'],
        [1, '#000000'],
      ],
    })
    return this.define(
      (id) =>
        `<mask id="${id}" maskUnits="userSpaceOnUse" x="-100000" y="-100000" width="200000" height="200000"><rect x="-100000" y="-100000" width="200000" height="200000"${fill}/></mask>`,
    )
  }

  private matte(matte: NonNullable<LayerItem['matte']>): string {
    const items = matte.items.map((item) => this.item(item)).join('')
    // Inverted: what it lets through is white all over, and black as far as the matte cuts.
    const body = matte.invert
      ? `<rect x="-100000" y="-100000" width="200000" height="200000" fill="#ffffff"/><g filter="url(#${this.blackened(matte.by)})">${items}</g>`
      : items
    const by = matte.invert ? 'luminance' : matte.by
    return this.define(
      (id) =>
        `<mask id="${id}" maskUnits="userSpaceOnUse" x="-100000" y="-100000" width="200000" height="200000" mask-type="${by}" style="mask-type:${by}">${body}</mask>`,
    )
  }

  /** A filter that makes everything black, as opaque as it is, or as it is light. */
  private blackened(by: 'alpha' | 'luminance'): string {
    const dark = '0 0 0 0 0 0 0 0 0 0 0 0 0 0 0'
    const light =
      by === 'alpha'
        ? ''
        : '<feFlood flood-color="#000000" result="f"/><feMerge><feMergeNode in="f"/><feMergeNode in="SourceGraphic"/></feMerge>'
    const alpha = by === 'alpha' ? '0 0 0 1 0' : '0.2126 0.7152 0.0722 0 0'
    return this.define(
      (id) =>
        `<filter id="${id}" color-interpolation-filters="sRGB">${light}<feColorMatrix values="${dark} ${alpha}"/></filter>`,
    )
  }
}

function isIdentity(matrix: Matrix): boolean {
  return matrix.every((value, i) => value === identity[i])
}
