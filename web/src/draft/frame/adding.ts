import type { Box } from '@hoja/core/geometry'
import { drawnAround, placeBelow, type Rest } from '@hoja/core/layout'
import { type Axis, findPart, type Part, type Template } from '@hoja/core/template'
import { nameWords } from '@hoja/core/tying'
import { useDraft } from '../../session/draft.ts'
import { useDesk } from '../desk.ts'

/** Where a part that was just drawn stands on the frame; it is tied to nothing yet. */
function placeOnFrame({ x, y }: Part): Box {
  const length = ({ size }: Axis) => (size.kind === 'fixed' ? size.value : 0)
  return { x: x.place, y: y.place, width: length(x), height: length(y) }
}

/** Whether what lies under a part is no longer seen. */
const covers = ({ kind, style }: Part) =>
  kind === 'picture' || (kind !== 'text' && 'fill' in style && style.fill !== null)

/**
 * Adds a part that was drawn or brought. What is drawn around texts goes behind them: whoever draws a plate means to see the
 * words on it.
 */
export function addDrawn(template: Template, part: Part, rest: Rest): void {
  const inside = covers(part) ? drawnAround(rest, placeOnFrame(part)) : []
  // A picture is a surface for words, and no more than another picture.
  const around = part.kind === 'picture' ? inside.filter((id) => findPart(template, id)!.kind === 'text') : inside
  const index = placeBelow(template.parts, around)
  const place = index === undefined ? {} : { index }
  if (!useDraft.getState().change({ kind: 'addPart', part, ...place }, `adding ${part.name}`)) return
  const many = around.length > 2
  const names = many ? `${around.length} parts` : nameWords(around.map((id) => findPart(template, id)!.name))
  const behind = index === undefined ? undefined : { part: part.id, names }
  useDesk.getState().set({ selected: part.id, tool: 'choose', offer: part.id, behind })
}
