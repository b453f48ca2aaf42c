import { changedTrack, type Track, withoutTrack } from '@hoja/core/programme'
import { Eye, EyeOff, Volume2, VolumeX } from 'lucide-react'
import { useState } from 'react'
import { classes } from '../ui/controls.tsx'
import { MenuHere } from '../ui/Menu.tsx'
import { NameDialog } from '../ui/NameDialog.tsx'
import { useSession } from './useProgramme.ts'

export const headWidth = 118
/** px between the ruler and the first track, where the measure of what lies there is drawn. */
export const airAbove = 12
/** px of a track. */
export const rowHeight: Record<Track['kind'], number> = { title: 48, footage: 58, sound: 38 }

/** A track's name, and whether it is seen or heard. */
export function TrackHead({ track }: { track: Track }) {
  const session = useSession()
  const [naming, setNaming] = useState(false)
  const { id, name, kind } = track
  const off = track.off === true
  const Icon = kind === 'sound' ? (off ? VolumeX : Volume2) : off ? EyeOff : Eye
  const toggle = () =>
    session.change((programme) => changedTrack(programme, id, { off: !off }), off ? 'track on' : 'track off')
  return (
    <MenuHere
      entries={() => [
        { label: off ? 'Switch on' : 'Switch off', onSelect: toggle },
        { label: 'Rename …', onSelect: () => setNaming(true) },
        { label: 'Remove', onSelect: () => session.change((programme) => withoutTrack(programme, id), 'remove track') },
      ]}
    >
      <div
        className={classes(
          'flex items-center justify-between gap-1 border-b border-rule pr-1.5 pl-3',
          off && 'text-soft',
        )}
        style={{ height: rowHeight[kind] }}
      >
        <span className="truncate">{name}</span>
        <button
          type="button"
          aria-pressed={!off}
          aria-label={`${name} is on`}
          title={off ? 'Switch on' : 'Switch off'}
          className="p-1 text-soft hover:text-ink"
          onClick={toggle}
        >
          <Icon size={14} aria-hidden="true" />
        </button>
        {naming && (
          <NameDialog
            title="Rename the track"
            action="Rename it"
            name={name}
            onName={(next) => {
              session.change((programme) => changedTrack(programme, id, { name: next }), 'rename track')
              setNaming(false)
            }}
            onClose={() => setNaming(false)}
          />
        )}
      </div>
    </MenuHere>
  )
}
