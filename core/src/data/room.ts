import { type Layout, styleOf } from '../scene/index.ts'
import { fullStyle } from '../template/index.ts'
import { setText } from '../text/index.ts'

/** How much room a text needs against what there is. */
export interface RoomUse {
  part: string
  name: string
  /** px that it would take on one line as designed, before any fit step. */
  needed: number
  /** px that there are; undefined: as much as it wants. */
  room: number | undefined
}

/** The room that every text of a filling needs as designed, and has. Texts that are gone or crawl are left out. */
export function roomUse(layout: Layout): RoomUse[] {
  return layout.rest.order.parts.flatMap((part, i): RoomUse[] => {
    const shape = layout.shapes[i]
    if (part.kind !== 'text' || !shape || layout.rest.gone[i]) return []
    if (styleOf(layout.content, i, 'text').crawl !== 0) return []
    const { leading } = fullStyle('text', part.style)
    const { fit } = setText(shape, { leading, align: 'start', fit: [] })
    return [{ part: part.id, name: part.name, needed: fit.width, room: layout.rooms[i] ?? undefined }]
  })
}
