import { address } from '@hoja/core/api'
import { soundStarts, type Timing } from '@hoja/core/motion'
import type { Template } from '@hoja/core/template'
import { useEffect, useRef } from 'react'
import { Loudspeakers } from './Loudspeakers.ts'
import type { Player } from './usePlayer.ts'

/** Plays a template's sounds along with a player: in real time forwards only, as the render mixes them. */
export function useSounds(template: Template, timing: Timing, player: Player): void {
  const speakers = useRef<Loudspeakers>(undefined)
  const {
    frame: { rate },
  } = template
  const fps = rate.num / rate.den
  useEffect(() => () => speakers.current?.close(), [])
  const forwards = player.speed === 1 && player.pace === 1
  useEffect(() => {
    const heard = soundStarts(template, timing).flatMap(({ sound, frame }) => {
      const at = (player.frame - frame) / fps
      const { id, sha256, level, seconds } = sound
      return forwards && at >= 0 && at < seconds ? [{ id, source: address.asset({ sha256 }), level, at }] : []
    })
    if (heard.length > 0) speakers.current ??= new Loudspeakers()
    speakers.current?.play(heard)
  }, [template, timing, fps, forwards, player.frame])
}
