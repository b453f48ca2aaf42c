import type { NamedShape, ShapeId } from '@hoja/core/template'
import { RadioGroup } from 'radix-ui'
import { classes } from './controls.tsx'

/** Longer side of the little frame that stands for a shape, CSS px. */
const side = 12

/** The outline of a frame's shape. */
export function ShapeIcon({ width, height }: Pick<NamedShape, 'width' | 'height'>) {
  const k = side / Math.max(width, height)
  return (
    <span
      aria-hidden="true"
      className="inline-block shrink-0 rounded-[1px] border-[1.5px] border-current"
      style={{ width: Math.max(5, width * k), height: Math.max(5, height * k) }}
    />
  )
}

/** Which of a template's shapes is looked at; nothing where there is one alone. */
export function ShapeChoice({
  shapes,
  shape,
  onShape,
}: {
  shapes: readonly NamedShape[]
  shape: ShapeId
  onShape: (shape: ShapeId) => void
}) {
  if (shapes.length < 2) return null
  return (
    <RadioGroup.Root
      aria-label="Shape of the frame"
      value={shape}
      onValueChange={onShape}
      className="flex flex-wrap gap-1"
      orientation="horizontal"
    >
      {shapes.map((one) => (
        <RadioGroup.Item
          key={one.id}
          value={one.id}
          title={`${one.name}: ${one.width} × ${one.height}`}
          className={classes(
            'flex h-6 items-center gap-1.5 rounded-[3px] border px-1.5 text-xs font-medium whitespace-nowrap',
            one.id === shape ? 'border-leaf bg-leaf text-white' : 'border-rule bg-white text-ink hover:bg-leaf-pale',
          )}
        >
          <ShapeIcon {...one} />
          {one.name}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  )
}
