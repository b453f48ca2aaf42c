import { limits, most } from '../limits/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { blendModes, contentAxis, fixedAxis, type Part, stillMotion } from '../template/index.ts'
import { shallowXml } from './depth.ts'
import { readImageHeader } from './imageHeader.ts'
import { parseXml, type XmlNode } from './svgSafety.ts'
import { unzipped } from './unzip.ts'

interface Seen {
  name: string
  /** 0..1 */
  opacity: number
  visible: boolean
  /** A mode of W3C Compositing and Blending Level 1. */
  blend: string
}

/** A layer of an OpenRaster picture: its pixels as they lie in the file, and where they stand, px. */
export interface RasterLayer extends Seen {
  kind: 'layer'
  x: number
  y: number
  width: number
  height: number
  png: Uint8Array
}
export interface RasterStack extends Seen {
  kind: 'stack'
  /** The lowest first. */
  nodes: (RasterLayer | RasterStack)[]
}

export interface OpenRaster {
  width: number
  height: number
  nodes: RasterStack['nodes']
  /** What it says that parts can't, in words. */
  beyond: string[]
}

/** The layers of a picture, wherever they lie, the lowest first. */
export const layersIn = (nodes: RasterStack['nodes']): RasterLayer[] =>
  nodes.flatMap((node) => (node.kind === 'layer' ? [node] : layersIn(node.nodes)))

/**
 * Reads a layered picture of the OpenRaster specification 0.0.6 (baseline): PNG layers and stacks of them, with their places,
 * opacities, visibility and composite operators.
 * @throws Refusal for what is none
 */
export function readOpenRaster(bytes: Uint8Array, name: string): OpenRaster {
  const broken = () => new Refusal('ora', `"${name}" is not an OpenRaster picture, or a damaged one; save it again.`)
  const files = unzipped(bytes, {
    bytes: limits.picturesBytes.most,
    files: limits.picturesFiles.most,
    tooMuch: () =>
      new Refusal('ora.large', `"${name}" holds more than ${most('picturesBytes')}; save it smaller.`, 413),
    broken,
    wanted: (path) => path === 'mimetype' || path === 'stack.xml' || /^data\/.*\.png$/i.test(path),
  })
  const text = (path: string) => new TextDecoder().decode(files.get(path) ?? new Uint8Array())
  if (text('mimetype').trim() !== 'image/openraster' || !files.has('stack.xml')) throw broken()
  const image = nodeNamed(xmlOf(text('stack.xml'), name, broken), 'image')
  const root = image && nodeNamed(image.children, 'stack')
  const [width, height] = [Number(image?.attributes.w), Number(image?.attributes.h)]
  if (!root || !(width > 0) || !(height > 0)) throw broken()
  const beyond = new Set<string>()
  const seen = (element: Element): Seen => {
    const { attributes } = element
    const operator = attributes['composite-op'] ?? 'svg:src-over'
    const blend = operator === 'svg:src-over' ? 'normal' : blendModes.find((mode) => `svg:${mode}` === operator)
    if (!blend) beyond.add(`the operator ${operator}`)
    return {
      name: attributes.name || (element.name === 'stack' ? 'Stack' : 'Layer'),
      opacity: Math.min(1, Math.max(0, Number(attributes.opacity ?? 1))),
      visible: attributes.visibility !== 'hidden',
      blend: blend ?? 'normal',
    }
  }
  const nodesOf = (elements: readonly Element[]): RasterStack['nodes'] =>
    elements
      .flatMap((element): RasterStack['nodes'] => {
        const { attributes } = element
        if (element.name === 'stack') return [{ kind: 'stack', ...seen(element), nodes: nodesOf(element.children) }]
        if (element.name !== 'layer') {
          if (element.name !== '#text') beyond.add(`the element ${element.name}`)
          return []
        }
        const png = files.get(attributes.src ?? '')
        demand(
          png,
          'ora.layer',
          `"${name}" has the layer "${attributes.name ?? ''}" without its picture; save it again.`,
        )
        const size = readImageHeader(png, attributes.src!)
        const at = { x: Number(attributes.x ?? 0), y: Number(attributes.y ?? 0) }
        return [{ kind: 'layer', ...seen(element), ...at, width: size.width, height: size.height, png }]
      })
      // What stands first in the file lies on top.
      .reverse()
  return { width, height, nodes: nodesOf(root.children), beyond: [...beyond] }
}

interface Element {
  name: string
  attributes: Record<string, string>
  children: Element[]
}

function xmlOf(text: string, name: string, broken: () => Refusal): Element[] {
  const elements = (nodes: readonly XmlNode[]): Element[] =>
    nodes.flatMap((node): Element[] => {
      const own = Object.keys(node).find((key) => key !== ':@')
      if (own === undefined) return []
      const inside = node[own]
      const attributes = (node[':@'] ?? {}) as Record<string, string>
      return [{ name: own, attributes, children: Array.isArray(inside) ? elements(inside as XmlNode[]) : [] }]
    })
  try {
    return elements(parseXml(shallowXml(text, `"${name}"`)))
  } catch (error) {
    throw error instanceof Refusal ? error : broken()
  }
}

const nodeNamed = (list: readonly Element[], name: string) => list.find((node) => node.name === name)

/**
 * A layered picture as a group of pictures, its stacks as groups. Ids are `prefix` and a number.
 * @param pictureOf by which name the template carries a layer's pixels
 * @throws Refusal when it has no layers
 */
export function openRasterParts(
  { nodes }: OpenRaster,
  prefix: string,
  name: string,
  at: { x: number; y: number },
  pictureOf: (layer: RasterLayer) => string,
): Part {
  demand(nodes.length > 0, 'ora.empty', `"${name}" has no layers; choose another picture.`)
  let count = 0
  const parts = (list: RasterStack['nodes']): Part[] =>
    list.map((node): Part => {
      const id = `${prefix}-${++count}`
      const style = {
        ...(node.visible ? {} : { visible: false }),
        ...(node.opacity < 1 ? { opacity: node.opacity } : {}),
        ...(node.blend === 'normal' ? {} : { blend: node.blend }),
      }
      if (node.kind === 'stack') return groupOf(id, node.name, style, parts(node.nodes))
      return {
        id,
        name: node.name,
        kind: 'picture',
        x: fixedAxis(at.x + node.x, node.width),
        y: fixedAxis(at.y + node.y, node.height),
        style: { ...style, picture: pictureOf(node) },
        motion: stillMotion(),
      } as Part
    })
  return groupOf(prefix, name, {}, parts(nodes))
}

const groupOf = (id: string, name: string, style: object, parts: Part[]): Part =>
  ({ id, name, kind: 'group', x: contentAxis(0), y: contentAxis(0), style, motion: stillMotion(), parts }) as Part
