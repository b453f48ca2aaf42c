import { address } from '@hoja/core/api'
import { soundStarts } from '@hoja/core/motion'
import {
  clipAt,
  mediumOf,
  type Placed,
  type Programme,
  secondsIn,
  type TitleClip,
  valuesOfClip,
} from '@hoja/core/programme'
import { useEffect } from 'react'
import { type Heard, Loudspeakers } from '../preview/Loudspeakers.ts'
import type { ProgrammeSession } from './programmeSession.ts'
import { useSession } from './useProgramme.ts'

/** What is heard of a programme at a frame: movies and sounds on tracks that are on, and the sounds of titles. */
function heardAt(session: ProgrammeSession, programme: Programme, frame: number): Heard[] {
  return programme.tracks.flatMap((track): Heard[] => {
    const placed = track.off ? undefined : clipAt(programme, track.id, frame)
    if (!placed) return []
    const { id, clip } = placed
    if (clip.kind === 'title') return ofTitle(session, programme, placed as Placed<TitleClip>, frame)
    const medium = mediumOf(programme, clip)
    const at = secondsIn(programme, frame - clip.at + clip.from)
    const level = clip.level ?? 0
    if (medium.kind === 'sound') return [{ id, source: address.asset({ sha256: medium.sha256 }), level, at }]
    if (medium.kind !== 'movie' || !medium.sound || !session.footage.reader(medium.sha256).hasSound) return []
    return [{ id, source: address.footageSound({ sha256: medium.sha256 }), level, at }]
  })
}

function ofTitle(session: ProgrammeSession, programme: Programme, title: Placed<TitleClip>, frame: number): Heard[] {
  const { clip, id } = title
  const scene = session.sceneOf(clip.design, clip.shape)
  if (!scene || scene.template.sounds.length === 0) return []
  const layout = scene.layout(valuesOfClip(scene, programme, title, session.now))
  const timing = scene.timing(layout, clip.frames >= scene.shortest(layout) ? clip.frames : undefined)
  return soundStarts(scene.template, timing).flatMap(({ sound, frame: starts }) => {
    const at = secondsIn(programme, frame - clip.at - starts)
    if (at < 0 || at >= sound.seconds) return []
    return [{ id: `${id} ${sound.id}`, source: address.asset({ sha256: sound.sha256 }), level: sound.level, at }]
  })
}

/** Plays what is heard along with the picture: in real time forwards. */
export function useProgrammeSounds(): void {
  const session = useSession()
  useEffect(() => {
    const { playhead } = session
    let speakers: Loudspeakers | undefined
    const play = () => {
      const heard = playhead.speed === 1 ? heardAt(session, session.programme, playhead.frame) : []
      if (heard.length > 0) speakers ??= new Loudspeakers()
      speakers?.play(heard)
    }
    const end = playhead.subscribe(play)
    return () => {
      end()
      speakers?.close()
    }
  }, [session])
}
