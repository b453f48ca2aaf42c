import { address } from '@hoja/core/api'
import { soundStarts, type Timing } from '@hoja/core/motion'
import type { Template } from '@hoja/core/template'
import { useEffect, useRef } from 'react'
import type { Player } from './usePlayer.ts'

/** How far (seconds) a sound may run beside the picture before it is put right. */
const drift = 0.12

interface Loudspeaker {
  element: HTMLAudioElement
  gain: GainNode
}

/** One for the page: browsers allow few. */
let context: AudioContext | undefined

/**
 * A sound through the browser's mixer, whose two channels (W3C Web Audio API) are what is rendered; an element by itself
 * could not be louder than it is.
 */
function loudspeaker(source: string): Loudspeaker {
  context ??= new AudioContext()
  const element = new Audio(source)
  element.preload = 'auto'
  const gain = context.createGain()
  context.createMediaElementSource(element).connect(gain).connect(context.destination)
  return { element, gain }
}

/** Plays a template's sounds along with a player: in real time forwards only, as the render mixes them. */
export function useSounds(template: Template, timing: Timing, player: Player): void {
  const elements = useRef(new Map<string, Loudspeaker>())
  const {
    sounds,
    frame: { rate },
  } = template
  const fps = rate.num / rate.den
  useEffect(() => {
    const own = elements.current
    return () => {
      for (const { element, gain } of own.values()) {
        element.pause()
        gain.disconnect()
      }
      own.clear()
    }
  }, [])
  const forwards = player.speed === 1 && player.pace === 1
  useEffect(() => {
    const known = new Set(sounds.map((sound) => sound.id))
    for (const [id, { element }] of elements.current) if (!known.has(id)) element.pause()
    for (const { sound, frame } of soundStarts(template, timing)) {
      const source = address.asset({ sha256: sound.sha256 })
      let own = elements.current.get(sound.id)
      if (!own?.element.src.endsWith(source)) {
        own?.element.pause()
        own?.gain.disconnect()
        own = loudspeaker(source)
        elements.current.set(sound.id, own)
      }
      const { element, gain } = own
      gain.gain.value = 10 ** (sound.level / 20)
      const at = (player.frame - frame) / fps
      if (!forwards || at < 0 || at >= sound.seconds) element.pause()
      else {
        if (Math.abs(element.currentTime - at) > drift) element.currentTime = at
        // Refused until the page was touched; the next frame tries again.
        void context?.resume().catch(() => {})
        if (element.paused) void element.play().catch(() => {})
      }
    }
  }, [template, timing, sounds, fps, forwards, player.frame])
}
