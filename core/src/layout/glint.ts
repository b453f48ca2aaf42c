import {
  allParts,
  type Change,
  findPart,
  freeId,
  newPart,
  type Part,
  type PartId,
  placeOf,
  type Template,
} from '../template/index.ts'

/** Share of the bar that the glint is wide: narrow enough to travel, wide enough to be seen in a few frames. */
const share = 0.3

/**
 * A soft light that sweeps once across a part as it arrives: a leaning box above it, cut to it, a share of its width, that
 * travels in sizes of its own. So it crosses the whole part, whatever the text makes of its length.
 */
export function addGlint(template: Template, id: PartId): { change: Change; id: PartId } {
  const target = findPart(template, id)!
  const ids = allParts(template.parts).map((part) => part.id)
  const own = freeId(ids, 'glint')
  const tie = (edge: 'start' | 'end') => ({
    edge,
    to: { parts: [id] },
    at: edge,
    gap: 0,
    follow: 'settled' as const,
    gone: 'hide' as const,
  })
  const { in: frames } = template.spans
  const light = (at: number, colour: string) => ({ at, colour })
  const part: Part = {
    ...newPart('box', own, `Glint on ${target.name}`),
    x: { ties: [tie('start')], place: 0, size: { kind: 'share', of: { parts: [id] }, factor: share, plus: 0 } },
    y: { ties: [tie('start'), tie('end')], place: 0, size: { kind: 'content' } },
    style: {
      leanLeft: 20,
      leanRight: 20,
      fill: {
        kind: 'linear',
        angle: 0,
        stops: [light(0, '#ffffff00'), light(0.5, '#ffffff99'), light(1, '#ffffff00')],
      },
    },
    motion: {
      anchor: { x: 0.5, y: 0.5 },
      out: 'own',
      tracks: {
        shiftX: {
          unit: 'own',
          keys: [
            { span: 'in', at: Math.round(frames * 0.4), value: -1.2, ease: { bezier: [0.42, 0, 0.58, 1] } },
            { span: 'in', at: frames, value: 1 / share + 0.2, ease: 'linear' },
          ],
        },
      },
    },
    matte: { part: id, by: 'alpha', invert: false },
  } as Part
  const place = placeOf(template.parts, id)!
  const parent = allParts(template.parts).find((other) => other.parts === place.list)
  return { id: own, change: { kind: 'addPart', part, index: place.index + 1, ...(parent ? { into: parent.id } : {}) } }
}
