import { lengthOf, withFootage, withMedium } from '@hoja/core/programme'
import { useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { useSession } from './useProgramme.ts'

/** Endings of what is laid under titles: movies, sequences as a zip, stills, sounds. */
export const footageFiles = '.mov,.mp4,.m4v,.webm,.mkv,.avi,.zip,.png,.jpg,.jpeg,.webp,.wav,.mp3,.ogg,.oga,.opus'

/** Takes in files, and lays each behind the last footage, or a sound at the beginning. */
export function useFootage() {
  const session = useSession()
  const [state, setState] = useState('')
  const add = async (files: readonly File[]) => {
    for (const [i, file] of files.entries()) {
      setState(`Taking in ${file.name}${files.length > 1 ? `, ${i + 1} of ${files.length}` : ''} …`)
      try {
        const medium = await api.addMedium({ id: session.id, file })
        session.place((programme) => {
          const { programme: next, id } = withMedium(programme, medium)
          const kind = medium.kind === 'sound' ? 'sound' : 'footage'
          const track = next.tracks.findLast((one) => one.kind === kind)?.id ?? ''
          const at = kind === 'sound' ? 0 : lengthOf({ clips: onTrack(next.clips, track) })
          const placed = withFootage(next, id, at, track)
          return { programme: placed.programme, ids: [placed.id] }
        }, 'footage')
      } catch (error) {
        toast.error((error as Error).message)
      }
    }
    setState('')
  }
  return { add, state }
}

const onTrack = <C extends { track: string }>(clips: Record<string, C>, track: string): Record<string, C> =>
  Object.fromEntries(Object.entries(clips).filter(([, clip]) => clip.track === track))
