import { address } from '@hoja/core/api'
import { withMovieCuts } from '@hoja/core/programme'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { counted } from '../ui/counted.ts'
import type { MenuEntry } from '../ui/Menu.tsx'
import type { ProgrammeSession } from './programmeSession.ts'

/** Cuts of a movie, as they were seen while its proxy was made. */
export async function findCuts(session: ProgrammeSession, medium: string): Promise<void> {
  const own = session.programme.media[medium]
  if (own?.kind !== 'movie') return
  try {
    const { state, cuts = [], reason } = await api.footageProxy({ sha256: own.sha256 })
    if (state === 'failed') throw new Error(reason)
    if (state === 'making') throw new Error('The proxy is still being made; its cuts are known when it is there.')
    if (session.change((programme) => withMovieCuts(programme, medium, cuts), 'cuts'))
      toast.success(`${counted(cuts.length, 'cut')} found in "${own.name}".`)
  } catch (error) {
    toast.error((error as Error).message)
  }
}

/** A movie to look at and send; it is rendered like any other output. */
async function review(session: ProgrammeSession): Promise<void> {
  try {
    if (!(await session.save())) throw new Error('The programme is not saved yet; look at what stands beside Undo.')
    const output = await api.reviewProgramme({ id: session.id, timecode: true })
    toast.success('The review movie is under way.', {
      action: {
        label: 'Look at it',
        onClick: () => window.location.assign(`/t/${output.template}/outputs/${output.id}`),
      },
      duration: 15_000,
    })
  } catch (error) {
    toast.error((error as Error).message)
  }
}

/** Saved first, so that what goes out is what is seen. */
export function exportEntries(session: ProgrammeSession): (MenuEntry | string)[] {
  const to = (kind: string) => async () => {
    await session.save()
    const link = document.createElement('a')
    link.href = address.programmeAs({ id: session.id, kind })
    link.download = ''
    link.click()
  }
  return [
    {
      label: 'Review movie with timecode',
      onSelect: () => void review(session),
    },
    'the timeline',
    { label: 'OpenTimelineIO (.otio)', onSelect: to('otio') },
    { label: 'Edit decision list (.edl)', onSelect: to('edl') },
    'the words',
    { label: 'Subtitles, SubRip (.srt)', onSelect: to('srt') },
    { label: 'Subtitles, WebVTT (.vtt)', onSelect: to('vtt') },
    { label: 'Markers and titles as a table (.csv)', onSelect: to('csv') },
    { label: 'Words to read (.txt)', onSelect: to('txt') },
    'on paper',
    { label: 'Cue sheet (.pdf)', onSelect: to('pdf') },
  ]
}
