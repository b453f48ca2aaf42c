import { changedMarker, timecodeIn } from '@hoja/core/programme'
import { type PointerEvent, useState } from 'react'
import { MenuHere } from '../ui/Menu.tsx'
import { NameDialog } from '../ui/NameDialog.tsx'
import { rulerSteps } from './timescale.ts'
import { useSession, useView } from './useProgramme.ts'

export const rulerHeight = 26

/** The timecodes of a timeline and its markers. */
export function Ruler({
  px,
  from,
  to,
  onMarker,
}: {
  px: number
  /** The stretch that is seen, frames. */
  from: number
  to: number
  onMarker: (event: PointerEvent, id: string) => void
}) {
  const session = useSession()
  const [naming, setNaming] = useState<string>()
  const picture = useView((view) => view.programme.picture)
  const start = useView((view) => view.programme.start)
  const markers = useView((view) => view.programme.markers)
  const { label, tick } = rulerSteps(px, picture.rate)
  const first = Math.max(0, Math.floor(from / label) * label)
  const labels = Array.from({ length: Math.max(0, Math.ceil((to - first) / label)) }, (_, i) => first + i * label)
  const ticks = Array.from({ length: Math.max(0, Math.ceil((to - first) / tick)) }, (_, i) => first + i * tick)
  return (
    <div
      className="sticky top-0 z-10 border-b border-rule bg-paper text-xs text-soft"
      style={{ height: rulerHeight, cursor: 'ew-resize' }}
    >
      {ticks.map((at) => (
        <span key={at} className="absolute bottom-0 h-1 border-l border-rule" style={{ left: at * px }} />
      ))}
      {labels.map((at) => (
        <span key={at} className="absolute bottom-0 h-full border-l border-rule pt-1 pl-1" style={{ left: at * px }}>
          {timecodeIn({ picture, start }, at)}
        </span>
      ))}
      {Object.entries(markers).map(([id, { at, name }]) =>
        at < from || at > to ? null : (
          <MenuHere
            key={id}
            entries={() => [
              { label: `Go to "${name}"`, onSelect: () => session.playhead.go(at) },
              { label: 'Rename …', onSelect: () => setNaming(id) },
              {
                label: 'Remove',
                onSelect: () => session.change((own) => changedMarker(own, id, null), 'remove marker'),
              },
            ]}
          >
            <button
              type="button"
              title={name}
              aria-label={`Marker ${name} at ${timecodeIn({ picture, start }, at)}`}
              className="absolute bottom-0 z-10 -ml-1.5 h-3.5 w-3 bg-madder [clip-path:polygon(0_0,100%_0,100%_60%,50%_100%,0_60%)]"
              style={{ left: at * px }}
              onPointerDown={(event) => {
                event.stopPropagation()
                if (event.button === 0) onMarker(event, id)
              }}
              onDoubleClick={() => session.playhead.go(at)}
            />
          </MenuHere>
        ),
      )}
      {naming !== undefined && (
        <NameDialog
          title="Rename the marker"
          action="Rename it"
          name={markers[naming]?.name ?? ''}
          onName={(name) => {
            session.change((own) => changedMarker(own, naming, { name }), 'rename marker')
            setNaming(undefined)
          }}
          onClose={() => setNaming(undefined)}
        />
      )}
    </div>
  )
}
