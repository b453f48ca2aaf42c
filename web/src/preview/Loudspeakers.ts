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

/** A sound that is heard now. */
export interface Heard {
  id: string
  /** Where its file is fetched. */
  source: string
  /** dB */
  level: number
  /** Seconds from its beginning. */
  at: number
}

/** Sounds that play along with a picture, each by its id. */
export class Loudspeakers {
  private readonly own = new Map<string, Loudspeaker>()

  /** Plays these where they are, and stops all others. */
  play(heard: readonly Heard[]): void {
    const ids = new Set(heard.map(({ id }) => id))
    for (const [id, { element }] of this.own) if (!ids.has(id)) element.pause()
    for (const { id, source, level, at } of heard) {
      let one = this.own.get(id)
      if (!one?.element.src.endsWith(source)) {
        one?.element.pause()
        one?.gain.disconnect()
        one = loudspeaker(source)
        this.own.set(id, one)
      }
      const { element, gain } = one
      gain.gain.value = 10 ** (level / 20)
      if (Math.abs(element.currentTime - at) > drift) element.currentTime = at
      // Refused until the page was touched; the next frame tries again.
      void context?.resume().catch(() => {})
      if (element.paused) void element.play().catch(() => {})
    }
  }

  close(): void {
    for (const { element, gain } of this.own.values()) {
      element.pause()
      gain.disconnect()
    }
    this.own.clear()
  }
}
