import { outlinesOf, tightAreaOf } from '../path/index.ts'
import { demand } from '../refusal/index.ts'
import { type Axis, contentAxis, fixedAxis, type Part, stillMotion, type Target } from '../template/index.ts'
import { type Artwork, type ArtworkNode, type ArtworkShape, shapesIn } from './svgArtwork.ts'

/**
 * Artwork as parts: one path, or a group of a fixed size in which every path is tied to the group by shares of it, so that
 * the whole stretches with the group. Its groups are groups; what cuts others is a part as well, drawn as a matte only.
 * Ids are `prefix` and a number.
 * @throws Refusal when nothing is drawn
 */
export function artworkParts(artwork: Artwork, prefix: string, name: string, at: { x: number; y: number }): Part {
  const { nodes, width, height } = artwork
  demand(shapesIn(nodes).length > 0, 'svg.empty', `"${name}" draws nothing; choose another drawing.`)
  const [only] = nodes
  if (nodes.length === 1 && only!.kind === 'shape' && !only!.cut) {
    const area = tightAreaOf(only!.segments)
    return {
      ...pathPart(only!, prefix, name),
      x: fixedAxis(at.x + area.x, area.width),
      y: fixedAxis(at.y + area.y, area.height),
    } as Part
  }
  let count = 0
  const next = () => ++count
  const parts = (list: readonly ArtworkNode[], isInside: boolean): Part[] =>
    list.flatMap((node): Part[] => {
      const n = next()
      const own = { id: `${prefix}-${n}`, name: node.name ?? `${name} ${n}` }
      const target: Target = isInside ? { parts: [prefix] } : { region: 'group' }
      const part: Part =
        node.kind === 'group'
          ? ({ ...groupPart(own.id, own.name, parts(node.nodes, true)), style: dressOf(node) } as Part)
          : ({ ...pathPart(node, own.id, own.name), ...tiedBy(node, artwork, target) } as Part)
      if (!node.cut) return [part]
      const cutter = groupPart(`${prefix}-${next()}`, `Cuts ${own.name}`, parts(node.cut.nodes, true))
      const matte = { part: cutter.id, by: node.cut.by, invert: false }
      return [{ ...cutter, style: { matteOnly: true } } as Part, { ...part, matte } as Part]
    })
  return {
    ...groupPart(prefix, name, parts(nodes, false)),
    x: fixedAxis(at.x, width),
    y: fixedAxis(at.y, height),
  } as Part
}

const groupPart = (id: string, name: string, parts: Part[]): Part => ({
  id,
  name,
  kind: 'group',
  x: contentAxis(0),
  y: contentAxis(0),
  style: {},
  motion: stillMotion(),
  parts,
})

const dressOf = ({ opacity, blend }: Pick<ArtworkNode, 'opacity' | 'blend'>): object => ({
  ...(opacity < 1 ? { opacity } : {}),
  ...(blend ? { blend } : {}),
})

function pathPart(shape: ArtworkShape, id: string, name: string): Part {
  const { segments, fill, stroke, strokeWidth, ends, corners } = shape
  return {
    id,
    name,
    kind: 'path',
    x: contentAxis(0),
    y: contentAxis(0),
    style: {
      outlines: outlinesOf(segments, tightAreaOf(segments)),
      fill,
      ...(stroke ? { stroke, strokeWidth, ends, corners } : {}),
      ...dressOf(shape),
    },
    motion: stillMotion(),
  } as Part
}

/** Where a shape stands, by shares of the whole drawing. */
function tiedBy({ segments }: ArtworkShape, { width, height }: Artwork, to: Target): { x: Axis; y: Axis } {
  const area = tightAreaOf(segments)
  const tied = (start: number, size: number, whole: number): Axis => ({
    ties: (['start', 'end'] as const).map((edge) => ({
      edge,
      to,
      at: (edge === 'start' ? start : start + size) / whole,
      gap: 0,
      follow: 'settled',
      gone: 'collapse',
    })),
    size: { kind: 'content' },
    place: 0,
  })
  return { x: tied(area.x, area.width, width), y: tied(area.y, area.height, height) }
}
