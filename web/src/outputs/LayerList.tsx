import type { OutputSettings } from '@hoja/core/output'
import { useQuery } from '@tanstack/react-query'
import { api } from '../api.ts'
import { Backdrop } from '../preview/Backdrop.tsx'
import { classes } from '../ui/controls.tsx'

/** What becomes a clip and what is left to draw, the uppermost layer first. */
export function LayerList({ version, parts }: { version: number; parts: NonNullable<OutputSettings['parts']> }) {
  const layers = useQuery({ queryKey: ['layers', version, parts], queryFn: () => api.layersOf({ version, parts }) })
  if (layers.error) return <p className="text-stop">{layers.error.message}</p>
  if (!layers.data) return <p className="text-soft">Taking it apart …</p>
  return (
    <ol aria-label="Layers, the uppermost first">
      {[...layers.data].reverse().map((layer) => (
        <li
          key={layer.kind === 'clip' ? layer.parts.join() : layer.part}
          className={classes(
            'grid grid-cols-[168px_minmax(0,1fr)] gap-3 border-b border-rule py-1.5',
            layer.kind === 'editable' && 'text-soft',
          )}
        >
          <span className="relative aspect-video overflow-hidden border border-rule">
            <Backdrop />
            <img src={layer.picture} alt="" className="absolute inset-0 size-full object-contain" />
          </span>
          <span className="min-w-0">
            <b className="block font-medium">
              {layer.kind === 'clip' ? 'Clip' : 'Left to draw'}: {layer.name}
            </b>
            {layer.kind === 'editable' && (
              <span className="block text-xs">
                Filled by {layer.fields.join(', ')}. Its place is told in layers.json.
              </span>
            )}
            {layer.kind === 'clip' && layer.parts.length > 1 && (
              <span className="block text-xs">{layer.parts.length} neighbours become one.</span>
            )}
            {layer.kind === 'clip' && layer.follows.length > 0 && (
              <span className="block text-xs text-look">
                Its shape follows {layer.follows.join(', ')}: it is drawn as on the poster.
              </span>
            )}
          </span>
        </li>
      ))}
    </ol>
  )
}
