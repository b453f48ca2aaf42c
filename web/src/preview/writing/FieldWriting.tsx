import { boxOf } from '@hoja/core/layout'
import type { Scene } from '@hoja/core/scene'
import { type Field, fieldWritten, isWritable, type PartId, type Values } from '@hoja/core/template'
import { type MouseEvent, type ReactNode, useState } from 'react'
import type { Player } from '../usePlayer.ts'
import { WritingLayer } from './WritingLayer.tsx'

/** The text at a point (frame px) of which all words are one field's. */
function writtenAt(scene: Scene, values: Values, x: number, y: number): { part: PartId; field: Field } | undefined {
  const { rest, template } = scene.layout(values)
  const found = rest.order.parts.flatMap((part, i) => {
    const field = isWritable(part) ? fieldWritten(template, part) : undefined
    const box = boxOf(rest, i)
    const isThere = !rest.gone[i] && x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height
    return field && isThere ? [{ part: part.id, field, area: box.width * box.height }] : []
  })
  // Of several that lie over one another, the one that is meant is the smallest.
  return found.sort((a, b) => a.area - b.area)[0]
}

/**
 * A picture of the title in which a double click on a field's words puts a caret among them.
 * @param origin frame px at the picture's upper left corner
 * @param scale screen px per frame px
 */
export function FieldWriting({
  scene,
  values,
  player,
  origin,
  scale,
  whose,
  onText,
  onUndo,
  onRedo,
  onElsewhere,
  children,
}: {
  scene: Scene
  values: Values
  player: Player
  origin: { x: number; y: number }
  scale: number
  /** Whose words they are, for a screen reader: the row's, or the default. */
  whose: string
  onText: (field: Field, text: string, step: string) => void
  onUndo: () => void
  onRedo: () => void
  /** A double click where no field's words are. */
  onElsewhere?: () => void
  children: ReactNode
}) {
  const [writing, setWriting] = useState<PartId>()
  const { rest, template, content } = scene.layout(values)
  const part = writing === undefined ? undefined : rest.order.parts[rest.order.index.get(writing) ?? -1]
  const field = part && fieldWritten(template, part)
  const begin = (event: MouseEvent) => {
    const box = event.currentTarget.getBoundingClientRect()
    const found = writtenAt(
      scene,
      values,
      origin.x + (event.clientX - box.left) / scale,
      origin.y + (event.clientY - box.top) / scale,
    )
    if (!found) return onElsewhere?.()
    player.setSpeed(0)
    player.go(scene.settled(scene.layout(values)))
    setWriting(found.part)
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the form beside the picture does the same with the keyboard
    <div className="absolute inset-0" onDoubleClick={begin}>
      {children}
      {part && field && (
        <div className="absolute" style={{ left: -origin.x * scale, top: -origin.y * scale }}>
          <WritingLayer
            scale={scale}
            writing={{
              scene,
              values,
              frame: player.frame,
              part: part.id,
              own: 'field',
              label: `${field.name}, ${whose}, on the frame`,
              onWords: ({ from, to, words }, step) => {
                const was = String(content.fields.get(field.id) ?? '')
                onText(field, was.slice(0, from) + words + was.slice(to), step)
              },
              onUndo,
              onRedo,
              onLeave: () => setWriting(undefined),
            }}
          />
        </div>
      )}
    </div>
  )
}
