import { soundStarts, type Timing } from '@hoja/core/motion'
import type { Template } from '@hoja/core/template'
import { useEffect, useRef } from 'react'
import type { Player } from './usePlayer.ts'

/** How far (seconds) a sound may run beside the picture before it is put right. */
const drift = 0.12

/** Plays a template's sounds along with a player: in real time forwards only, as the render mixes them. */
export function useSounds(template: Template, timing: Timing, player: Player): void {
  const elements = useRef(new Map<string, HTMLAudioElement>())
  const {
    sounds,
    frame: { rate },
  } = template
  const fps = rate.num / rate.den
  useEffect(() => {
    const own = elements.current
    return () => {
      for (const element of own.values()) element.pause()
      own.clear()
    }
  }, [])
  const forwards = player.speed === 1 && player.pace === 1
  useEffect(() => {
    const known = new Set(sounds.map((sound) => sound.id))
    for (const [id, element] of elements.current) if (!known.has(id)) element.pause()
    for (const { sound, frame } of soundStarts(template, timing)) {
      let element = elements.current.get(sound.id)
      const source = `/api/assets/${sound.sha256}`
      if (!element?.src.endsWith(source)) {
        element?.pause()
        element = new Audio(source)
        element.preload = 'auto'
        elements.current.set(sound.id, element)
      }
      element.volume = Math.min(1, 10 ** (sound.level / 20))
      const at = (player.frame - frame) / fps
      if (!forwards || at < 0 || at >= sound.seconds) element.pause()
      else {
        if (Math.abs(element.currentTime - at) > drift) element.currentTime = at
        // Refused until the page was touched; the next frame tries again.
        if (element.paused) void element.play().catch(() => {})
      }
    }
  }, [template, timing, sounds, fps, forwards, player.frame])
}
