import { designFrom, shotNames, withFootage, withMedium, withTitles } from '@hoja/core/programme'
import type { Template } from '@hoja/core/template'
import { ChevronDown } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { classes } from '../ui/controls.tsx'
import { Menu } from '../ui/Menu.tsx'
import { usePointerDrag } from '../ui/usePointerDrag.ts'
import type { ProgrammeSession } from './programmeSession.ts'
import { rowHeight } from './TrackHead.tsx'
import { usePlaceable } from './usePlaceable.ts'
import { useSession, useView } from './useProgramme.ts'

/** Places a title of a template, filled with its defaults. @returns whether there was one to place */
export async function placeTitle(
  session: ProgrammeSession,
  template: string,
  at: number,
  track?: string,
): Promise<boolean> {
  try {
    const { versions } = await api.template({ id: template })
    const version = versions[0]
    if (!version) return false
    const { templates } = session.store.getState()
    const designed: Template = templates.get(String(version.id)) ?? (await api.version({ id: version.id })).content
    return session.place((programme) => {
      const titles = programme.tracks.filter(({ kind }) => kind === 'title')
      const own = titles.find(({ id }) => id === track) ?? titles.at(-1)
      const key = String(version.id)
      const design = designFrom(programme, version, designed)
      return withTitles(programme, [{ at, frames: design.frames, design: key, words: { cells: {} } }], {
        track: own?.id ?? '',
        designs: { [key]: design },
      })
    }, 'title')
  } catch (error) {
    toast.error((error as Error).message)
    return false
  }
}

/** As long as a shot is unless somebody trims it. */
const shotSeconds = 120

/** Adds a drawn shot behind the last footage. */
export function placeShot(session: ProgrammeSession, scene: number): boolean {
  return session.place((programme) => {
    const { num, den } = programme.picture.rate
    const frames = Math.round((shotSeconds * num) / den)
    const { programme: next, id } = withMedium(programme, { kind: 'shot', name: shotNames[scene]!, frames, scene })
    const track = next.tracks.findLast(({ kind }) => kind === 'footage')?.id ?? ''
    const end = Object.values(next.clips).reduce(
      (last, clip) => (clip.track === track ? Math.max(last, clip.at + clip.frames) : last),
      0,
    )
    const placed = withFootage(next, id, end, track)
    return { programme: placed.programme, ids: [placed.id] }
  }, 'footage')
}

/** What can be laid on the timeline: templates, dragged there or placed by a press, and footage. */
export function Palette({
  used,
  current,
  onCurrent,
  onFiles,
}: {
  used: readonly string[]
  /** The template that N places. */
  current: string | undefined
  onCurrent: (template: string) => void
  onFiles: () => void
}) {
  const session = useSession()
  const placeable = usePlaceable(used)
  const tracks = useView((view) => view.programme.tracks)
  const [ghost, setGhost] = useState<{ x: number; y: number; name: string }>()
  const drag = usePointerDrag<{ id: string; name: string }>({
    threshold: 4,
    move: ({ name }, { x, y }) => setGhost({ x, y, name }),
    end({ id }, { x, y }, moved) {
      setGhost(undefined)
      if (!moved) {
        onCurrent(id)
        return
      }
      const box = document.querySelector<HTMLElement>('[data-timeline]')
      const area = box?.getBoundingClientRect()
      if (!box || !area || x < area.left || x > area.right || y < area.top || y > area.bottom) return
      const px = Number(box.dataset.px)
      const at = Math.max(0, Math.round((x - area.left + box.scrollLeft) / px))
      let top = Number(box.dataset.top) - box.scrollTop + area.top
      const track = tracks.find(({ kind }) => {
        top += rowHeight[kind]
        return y < top
      })
      onCurrent(id)
      void placeTitle(session, id, at, track?.id)
    },
    cancel: () => setGhost(undefined),
  })
  const shown = placeable.slice(0, 5)
  const chip = 'h-6 rounded-[3px] border border-rule bg-white px-2 text-xs font-medium hover:border-soft'
  return (
    <div
      className="flex flex-wrap items-center gap-1.5 border-b border-rule px-3.5 py-1.5"
      role="toolbar"
      aria-label="To place"
    >
      {shown.map(({ id, name }) => (
        <button
          key={id}
          type="button"
          title={`Drag "${name}" onto a track, or press it and N puts it at the playhead`}
          aria-pressed={(current ?? shown[0]?.id) === id}
          className={classes(chip, 'touch-none', (current ?? shown[0]?.id) === id && 'border-leaf text-leaf')}
          onPointerDown={(event) => event.button === 0 && drag(event, { id, name })}
          // The keys stay with the timeline.
          onMouseDown={(event) => event.preventDefault()}
          onKeyDown={(event) => {
            if (event.key === 'Enter') void placeTitle(session, id, session.playhead.frame)
          }}
        >
          {name}
        </button>
      ))}
      {placeable.length > shown.length && (
        <Menu
          label="Other templates"
          className={chip}
          entries={() =>
            placeable.slice(shown.length).map(({ id, name }) => ({
              label: name,
              onSelect: () => {
                onCurrent(id)
                void placeTitle(session, id, session.playhead.frame)
              },
            }))
          }
        >
          more <ChevronDown size={12} aria-hidden="true" />
        </Menu>
      )}
      <Menu
        label="Add footage"
        className={classes(chip, '!text-leaf')}
        entries={() => [
          { label: 'Files: movies, stills, sounds …', onSelect: onFiles },
          'drawn shots, to try things on',
          ...shotNames.map((name, scene) => ({ label: name, onSelect: () => placeShot(session, scene) })),
        ]}
      >
        + footage
      </Menu>
      {ghost && (
        <span
          className="pointer-events-none fixed z-50 rounded-[3px] border border-leaf bg-leaf-pale px-2 py-1 text-xs font-medium"
          style={{ left: ghost.x + 10, top: ghost.y + 10 }}
        >
          {ghost.name}
        </span>
      )}
    </div>
  )
}
